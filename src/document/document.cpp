#include "document/document.h"

#include "document/kinds.h"

#include <algorithm>

namespace ledge::doc {
namespace {
bool sameLayers(const std::vector<LayerPtr>& a, const std::vector<LayerPtr>& b) {
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const LayerPtr& x, const LayerPtr& y) { return x == y || *x == *y; });
}

template <typename T>
const T* withId(const std::vector<T>& items, Id id) {
    const auto it =
        std::find_if(items.begin(), items.end(), [id](const T& t) { return t.id == id; });
    return it == items.end() ? nullptr : &*it;
}
template <typename T>
const T* withId(const std::vector<Shared<T>>& items, Id id) {
    const auto it =
        std::find_if(items.begin(), items.end(), [id](const Shared<T>& t) { return t->id == id; });
    return it == items.end() ? nullptr : &**it;
}

const Layer* findLayer(const std::vector<LayerPtr>& layers, Id id) {
    for (const LayerPtr& layer : layers) {
        if (layer->id == id) return layer.get();
        if (const auto* group = layer->as<Group>())
            if (const Layer* found = findLayer(group->children, id)) return found;
    }
    return nullptr;
}

void collectDrawn(const std::vector<LayerPtr>& layers, double opacity, double scale,
                  std::vector<DrawnLayer>& out) {
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const Layer& layer = **it;
        if (!layer.isVisible || layer.opacity <= 0) continue;
        if (scale > 0 && !layer.showsAt(scale)) continue;
        if (const auto* group = layer.as<Group>())
            collectDrawn(group->children, opacity * layer.opacity, scale, out);
        else
            out.push_back({*it, opacity * layer.opacity});
    }
}
}  // namespace

bool Group::operator==(const Group& o) const {
    return isFolded == o.isFolded && sameLayers(children, o.children);
}

bool MapPanel::operator==(const MapPanel& o) const {
    const bool sameFrozen =
        frozen.has_value() == o.frozen.has_value() && (!frozen || sameLayers(*frozen, *o.frozen));
    return centre == o.centre && scale == o.scale && rotation == o.rotation && crs == o.crs &&
           hasTicks == o.hasTicks && lit == o.lit && follows == o.follows && grids == o.grids &&
           shownIn == o.shownIn && outline == o.outline && hasLeaders == o.hasLeaders &&
           shapedBy == o.shapedBy && sameFrozen;
}

bool Document::operator==(const Document& o) const {
    return name == o.name && author == o.author && mapCrs == o.mapCrs && sources == o.sources &&
           sameLayers(layers, o.layers) && views == o.views && profiles == o.profiles &&
           questions == o.questions && sheets == o.sheets && customCrs == o.customCrs &&
           datumChoices == o.datumChoices && display == o.display && lightPrefix == o.lightPrefix;
}

const SourceRef* Document::source(Id id) const { return withId(sources, id); }
const SavedView* Document::view(Id id) const { return withId(views, id); }
const Sheet* Document::sheet(Id id) const { return withId(sheets, id); }
const SavedProfile* Document::profile(Id id) const { return withId(profiles, id); }
const SavedQuestion* Document::question(Id id) const { return withId(questions, id); }

SourceRef readBy(const Layer& layer, const SourceRef& source) {
    SourceRef out = source;
    if (const auto* vector = layer.as<VectorLayer>()) out.filter = vector->filter;
    return out;
}
const Layer* Document::layer(Id id) const { return findLayer(layers, id); }

const SheetItem* Sheet::item(Id itemId) const { return withId(items, itemId); }

const SheetItem* Sheet::panel(Id itemId) const {
    if (const SheetItem* named = item(itemId); named && named->as<MapPanel>()) return named;
    // The last of the list is drawn first and is usually the main map.
    for (auto it = items.rbegin(); it != items.rend(); ++it)
        if ((*it)->as<MapPanel>()) return &**it;
    return nullptr;
}

std::string layerKind(const Layer& layer) {
    if (const auto* unknown = layer.as<UnknownLayer>()) return unknown->kind;
    return std::string(kindInfo(layer).name);
}

std::optional<Blend> blendNamed(std::string_view name) {
    for (std::size_t i = 0; i < kBlendNames.size(); ++i)
        if (kBlendNames[i] == name) return static_cast<Blend>(i);
    return {};
}

bool Layer::readsHeights() const { return kindInfo(*this).readsHeights; }

std::string itemKind(const SheetItem& item) {
    if (const auto* unknown = item.as<UnknownItem>()) return unknown->kind;
    return std::visit([]<typename T>(const T&) { return std::string(kItemKind<T>.name); },
                      item.content);
}

std::vector<DrawnLayer> drawnLayers(const std::vector<LayerPtr>& layers, double scale) {
    std::vector<DrawnLayer> out;
    collectDrawn(layers, 1, scale, out);
    return out;
}

std::vector<LayerPtr> allLayers(const std::vector<LayerPtr>& layers) {
    std::vector<LayerPtr> out;
    for (const LayerPtr& layer : layers) {
        out.push_back(layer);
        if (const auto* group = layer->as<Group>()) {
            const auto inner = allLayers(group->children);
            out.insert(out.end(), inner.begin(), inner.end());
        }
    }
    return out;
}

}  // namespace ledge::doc
