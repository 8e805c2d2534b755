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

using Ids = std::set<Id>;

// The list with `change` applied to each of these layers; whether there was one.
bool changeAllIn(Layers& layers, const Ids& ids, const std::function<void(Layer&)>& change) {
    bool isChanged = false;
    for (LayerPtr& slot : layers) {
        const auto* group = slot->as<Group>();
        Layers children = group ? group->children : Layers{};
        const bool isInner = changeAllIn(children, ids, change);
        const bool isOwn = ids.contains(slot->id);
        if (!isInner && !isOwn) continue;
        auto copy = std::make_shared<Layer>(*slot);
        if (isInner) copy->as<Group>()->children = std::move(children);
        if (isOwn) change(*copy);
        copy->id = slot->id;
        slot = std::move(copy);
        isChanged = true;
    }
    return isChanged;
}

// Takes these layers out, groups with all that they hold; what was taken, top first.
bool takeFrom(Layers& layers, const Ids& ids, Layers& taken) {
    const std::size_t before = taken.size();
    Layers kept;
    kept.reserve(layers.size());
    for (LayerPtr& slot : layers) {
        if (ids.contains(slot->id)) {
            taken.push_back(slot);
            continue;
        }
        if (const auto* group = slot->as<Group>()) {
            Layers children = group->children;
            if (takeFrom(children, ids, taken)) {
                auto copy = std::make_shared<Layer>(*slot);
                copy->as<Group>()->children = std::move(children);
                slot = std::move(copy);
            }
        }
        kept.push_back(slot);
    }
    layers = std::move(kept);
    return taken.size() > before;
}

Ids setOf(const std::vector<Id>& ids) { return {ids.begin(), ids.end()}; }

void putIn(Document& document, const Layers& layers, Place place) {
    changeList(document, place.group, [&](Layers& list) {
        const std::size_t at = std::min(place.index, list.size());
        list.insert(list.begin() + static_cast<std::ptrdiff_t>(at), layers.begin(), layers.end());
    });
}

void collectOutermost(const Layers& layers, const Ids& ids, std::vector<Id>& out) {
    for (const LayerPtr& layer : layers) {
        if (ids.contains(layer->id))
            out.push_back(layer->id);
        else if (const auto* group = layer->as<Group>())
            collectOutermost(group->children, ids, out);
    }
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
    putIn(document, {std::make_shared<Layer>(std::move(layer))}, place);
    return {std::move(document), id};
}

Document removeLayer(Document document, Id id) { return removeLayers(std::move(document), {id}); }

std::vector<Id> outermost(const Document& document, const std::vector<Id>& ids) {
    std::vector<Id> out;
    collectOutermost(document.layers, setOf(ids), out);
    return out;
}

Document withLayers(Document document, const std::vector<Id>& ids,
                    const std::function<void(Layer&)>& change) {
    changeAllIn(document.layers, setOf(ids), change);
    return document;
}

Document removeLayers(Document document, const std::vector<Id>& ids) {
    Layers taken;
    if (!takeFrom(document.layers, setOf(ids), taken)) return document;
    return withoutUnusedSources(std::move(document));
}

Document moveLayer(Document document, Id id, Place place) {
    return moveLayers(std::move(document), {id}, place);
}

Document moveLayers(Document document, const std::vector<Id>& ids, Place place) {
    if (place.group != 0) {
        const Layer* into = document.layer(place.group);
        if (!into || !into->isGroup()) return document;
        // Whatever is moved, or stands in what is moved, is no place to move to.
        for (const Id id : outermost(document, ids)) {
            const Layer* moving = document.layer(id);
            if (id == place.group) return document;
            if (const auto* group = moving->as<Group>())
                for (const LayerPtr& inner : allLayers(group->children))
                    if (inner->id == place.group) return document;
        }
    }
    Layers taken;
    if (takeFrom(document.layers, setOf(ids), taken)) putIn(document, taken, place);
    return document;
}

std::pair<Document, Id> groupLayers(Document document, const std::vector<Id>& ids,
                                    const std::string& name) {
    const auto members = outermost(document, ids);
    if (members.empty()) return {std::move(document), 0};
    Layer group;
    group.name = name;
    group.content = Group{};
    const auto place = placeOf(document, members.front());
    auto [next, id] = addLayer(std::move(document), std::move(group), *place);
    return {moveLayers(std::move(next), members, {id, 0}), id};
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
