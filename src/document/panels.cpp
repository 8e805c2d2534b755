#include "document/panels.h"

#include <algorithm>
#include <cmath>
#include <unordered_map>

#include "document/map_crs.h"

namespace ledge::doc {
namespace {
constexpr int kMostFollowed = 8;

const MapPanel* panelOf(const Document& document, Id id) {
    for (const Sheet& sheet : document.sheets)
        if (const SheetItem* item = sheet.item(id)) return item->as<MapPanel>();
    return nullptr;
}

// Places by id, so that long lists are no quadratic matter.
using Order = std::unordered_map<Id, std::size_t>;

std::vector<LayerPtr> withLit(std::vector<LayerPtr> layers, const Order& lit) {
    for (LayerPtr& slot : layers) {
        const bool isLit = lit.contains(slot->id);
        const auto* group = slot->as<Group>();
        auto inner = group ? withLit(group->children, lit) : std::vector<LayerPtr>();
        if (slot->isVisible == isLit && (!group || inner == group->children)) continue;
        auto copy = std::make_shared<Layer>(*slot);
        copy->isVisible = isLit;
        if (group) copy->as<Group>()->children = std::move(inner);
        slot = std::move(copy);
    }
    const auto place = [&lit](const LayerPtr& layer) {
        const auto it = lit.find(layer->id);
        return it == lit.end() ? lit.size() : it->second;
    };
    std::stable_sort(layers.begin(), layers.end(), [&](const LayerPtr& one, const LayerPtr& two) {
        return place(one) < place(two);
    });
    return layers;
}

double metresPerMapUnit(const crs::CrsPtr& crs) { return crs ? crs->metresPerUnit() : 1; }

// Map units in a millimetre of the panel.
double unitsPerMm(const Document& document, const MapPanel& panel) {
    return panel.scale / 1000 / metresPerMapUnit(crsIn(document, panel.crs));
}

// A step on the panel, y down, as a step of the map's plane; a map turned clockwise is a mirror of
// itself turned back.
Point onMap(Point mm, double degrees, double units) {
    const double turn = degrees * 3.14159265358979323846 / 180;
    const double c = std::cos(turn) * units, s = std::sin(turn) * units;
    return {c * mm.x + s * mm.y, s * mm.x - c * mm.y};
}
}  // namespace

MapPanel resolved(const Document& document, const MapPanel& panel) {
    MapPanel out = panel;
    Id next = panel.follows;
    for (int depth = 0; next != 0 && depth < kMostFollowed; ++depth) {
        if (const SavedView* view = document.view(next)) {
            out.centre = view->view.centre, out.scale = view->view.scale;
            out.rotation = view->view.rotation, out.crs = document.mapCrs;
            out.lit = litLayers(document.layers, view->dark);
            return out;
        }
        const MapPanel* other = panelOf(document, next);
        if (!other) return out;
        out.centre = other->centre, out.scale = other->scale;
        out.rotation = other->rotation, out.crs = other->crs;
        out.lit = other->lit, out.frozen = panel.frozen ? panel.frozen : other->frozen;
        next = other->follows;
    }
    return next == 0 ? out : panel;
}

std::vector<LayerPtr> panelLayers(const Document& document, const MapPanel& panel) {
    const MapPanel shown = resolved(document, panel);
    const auto& all = shown.frozen ? *shown.frozen : document.layers;
    if (!shown.lit) return all;
    Order lit;
    for (const Id id : *shown.lit) lit.emplace(id, lit.size());
    return withLit(all, lit);
}

std::vector<Id> litLayers(const std::vector<LayerPtr>& layers) {
    std::vector<Id> out;
    for (const LayerPtr& layer : allLayers(layers))
        if (layer->isVisible) out.push_back(layer->id);
    return out;
}

std::vector<Id> litLayers(const std::vector<LayerPtr>& layers, const std::set<Id>& dark) {
    std::vector<Id> out;
    for (const LayerPtr& layer : allLayers(layers))
        if (!dark.contains(layer->id)) out.push_back(layer->id);
    return out;
}

MapPanel moved(const Document& document, MapPanel panel, Point byMm) {
    panel = resolved(document, panel);
    panel.follows = 0;
    const Point by = onMap(byMm, panel.rotation, unitsPerMm(document, panel));
    panel.centre = {panel.centre.x - by.x, panel.centre.y - by.y};
    return panel;
}

MapPanel zoomed(const Document& document, MapPanel panel, double factor, Point aboutMm) {
    panel = resolved(document, panel);
    panel.follows = 0;
    // The place beneath stays: what moves is its distance from the middle.
    panel = moved(document, panel, {-aboutMm.x * (1 - factor), -aboutMm.y * (1 - factor)});
    panel.scale *= factor;
    return panel;
}

}  // namespace ledge::doc
