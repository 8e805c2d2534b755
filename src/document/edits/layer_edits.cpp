#include "document/edits/layer_edits.h"

#include <algorithm>

namespace ledge::doc {
namespace {
using Layers = std::vector<LayerPtr>;

// A copy of the list in which `change` was applied to the layer `id`; groups on the way are copied.
bool changeIn(Layers& layers, Id id, const std::function<void(Layer&)>& change) {
    for (LayerPtr& slot : layers) {
        if (slot->id == id) {
            auto copy = std::make_shared<Layer>(*slot);
            change(*copy);
            copy->id = id;
            slot = std::move(copy);
            return true;
        }
        if (const auto* group = slot->as<Group>()) {
            Layers children = group->children;
            if (!changeIn(children, id, change)) continue;
            auto copy = std::make_shared<Layer>(*slot);
            copy->as<Group>()->children = std::move(children);
            slot = std::move(copy);
            return true;
        }
    }
    return false;
}

std::optional<Place> placeIn(const Layers& layers, Id group, Id id) {
    for (std::size_t i = 0; i < layers.size(); ++i) {
        if (layers[i]->id == id) return Place{group, i};
        if (const auto* inner = layers[i]->as<Group>())
            if (const auto found = placeIn(inner->children, layers[i]->id, id)) return found;
    }
    return {};
}

// Runs `change` on the list of a group, or on the top level for 0.
void changeList(Document& document, Id group, const std::function<void(Layers&)>& change) {
    if (group == 0) return change(document.layers);
    changeIn(document.layers, group, [&](Layer& layer) {
        if (auto* inner = layer.as<Group>()) change(inner->children);
    });
}

LayerPtr takeOut(Document& document, Id id) {
    const auto place = placeIn(document.layers, 0, id);
    if (!place) return {};
    LayerPtr taken;
    changeList(document, place->group, [&](Layers& list) {
        taken = list[place->index];
        list.erase(list.begin() + static_cast<std::ptrdiff_t>(place->index));
    });
    return taken;
}

void putIn(Document& document, LayerPtr layer, Place place) {
    changeList(document, place.group, [&](Layers& list) {
        const std::size_t at = std::min(place.index, list.size());
        list.insert(list.begin() + static_cast<std::ptrdiff_t>(at), std::move(layer));
    });
}
}  // namespace

Document withLayer(Document document, Id id, const std::function<void(Layer&)>& change) {
    changeIn(document.layers, id, change);
    return document;
}

std::optional<Place> placeOf(const Document& document, Id id) {
    return placeIn(document.layers, 0, id);
}

std::pair<Document, Id> addLayer(Document document, Layer layer, Place place) {
    layer.id = document.nextId++;
    const Id id = layer.id;
    putIn(document, std::make_shared<Layer>(std::move(layer)), place);
    return {std::move(document), id};
}

Document removeLayer(Document document, Id id) {
    takeOut(document, id);
    return withoutUnusedSources(std::move(document));
}

Document moveLayer(Document document, Id id, Place place) {
    const Layer* moving = document.layer(id);
    if (!moving || place.group == id) return document;
    if (const auto* group = moving->as<Group>())
        for (const LayerPtr& inner : allLayers(group->children))
            if (inner->id == place.group) return document;
    if (place.group != 0 && !document.layer(place.group)) return document;
    LayerPtr layer = takeOut(document, id);
    putIn(document, std::move(layer), place);
    return document;
}

std::pair<Document, Id> groupLayers(Document document, const std::vector<Id>& ids,
                                    const std::string& name) {
    std::optional<Place> place;
    for (const LayerPtr& layer : allLayers(document.layers))
        if (!place && std::find(ids.begin(), ids.end(), layer->id) != ids.end())
            place = placeOf(document, layer->id);
    if (!place) return {std::move(document), 0};
    Layer group;
    group.name = name;
    group.content = Group{};
    auto [next, id] = addLayer(std::move(document), std::move(group), *place);
    std::size_t index = 0;
    for (const Id inner : ids) next = moveLayer(std::move(next), inner, {id, index++});
    return {std::move(next), id};
}

std::pair<Document, Id> addSource(Document document, SourceRef source) {
    for (const SourceRef& known : document.sources)
        if (known.path == source.path && known.layer == source.layer &&
            (!known.isLive() || known.lineage == source.lineage))
            return {std::move(document), known.id};
    source.id = document.nextId++;
    const Id id = source.id;
    document.sources.push_back(std::move(source));
    return {std::move(document), id};
}

Document withSource(Document document, Id id, const std::function<void(SourceRef&)>& change) {
    for (SourceRef& source : document.sources)
        if (source.id == id) change(source), source.id = id;
    return document;
}

Document withoutUnusedSources(Document document) {
    std::set<Id> used;
    const auto note = [&](const Layers& layers) {
        for (const LayerPtr& layer : allLayers(layers)) used.insert(layer->source);
    };
    note(document.layers);
    for (const Sheet& sheet : document.sheets)
        for (const SheetItem& item : sheet.items)
            if (const auto* panel = item.as<MapPanel>(); panel && panel->frozen)
                note(*panel->frozen);
    for (const SavedProfile& profile : document.profiles)
        used.insert(profile.sources.begin(), profile.sources.end());
    std::erase_if(document.sources, [&](const SourceRef& s) { return !used.contains(s.id); });
    return document;
}

}  // namespace ledge::doc
