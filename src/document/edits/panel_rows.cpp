#include <algorithm>
#include <cmath>

#include "document/edits/layer_edits.h"
#include "document/edits/sheet_arguments.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

Result<Document> withPanel(const Document& d, const EditValues& v, const char* edit,
                           const std::function<void(MapPanel&, const crs::CrsPtr&)>& change) {
    const SheetItem* item = d.sheet(v.id("sheet"))->item(v.id("item"));
    if (!item || !item->as<MapPanel>())
        return Error{ErrorCode::InvalidArgument, std::string(edit) + " item", "is no map panel",
                     "name a map panel of the sheet"};
    return withItem(d, v.id("sheet"), v.id("item"), [&](SheetItem& i) {
        auto& panel = *i.as<MapPanel>();
        change(panel, crsIn(d, panel.crs));
    });
}

Result<Document> withLegend(const Document& d, const EditValues& v, const char* edit,
                            const std::function<void(LegendItem&)>& change) {
    const SheetItem* item = d.sheet(v.id("sheet"))->item(v.id("item"));
    if (!item || !item->as<LegendItem>())
        return Error{ErrorCode::InvalidArgument, std::string(edit) + " item", "is no legend",
                     "name a legend of the sheet"};
    return withItem(d, v.id("sheet"), v.id("item"),
                    [&](SheetItem& i) { change(*i.as<LegendItem>()); });
}

// A panel with lamps of its own, as they are now.
MapPanel ownLamps(const Document& d, MapPanel panel) {
    panel = resolved(d, panel);
    panel.follows = 0;
    if (!panel.lit) panel.lit = litLayers(panel.frozen ? *panel.frozen : d.layers);
    return panel;
}

// A layer lit before the first of those that the map draws beneath it.
std::vector<Id> withLitAt(const Document& d, std::vector<Id> lit, Id layer) {
    bool isBelow = false;
    for (const LayerPtr& one : allLayers(d.layers)) {
        if (one->id == layer)
            isBelow = true;
        else if (const auto at = std::find(lit.begin(), lit.end(), one->id);
                 isBelow && at != lit.end()) {
            lit.insert(at, layer);
            return lit;
        }
    }
    lit.push_back(layer);
    return lit;
}

// Only layers of one list, the top level or a group, are drawn in the order they have here.
std::vector<Id> reordered(std::vector<Id> lit, Id layer, const std::string& to, Id of) {
    if (std::erase(lit, layer) == 0) return lit;
    auto at = lit.begin();
    if (to == "bottom") at = lit.end();
    if (to == "above" || to == "below") {
        at = std::find(lit.begin(), lit.end(), of);
        if (at != lit.end() && to == "below") ++at;
    }
    lit.insert(at, layer);
    return lit;
}
}  // namespace

std::vector<NamedEdit> panelEditRows() {
    return {
        {"panel-scale",
         "Scale of {item}",
         {kSheet, kItem, {"scale", Kind::Number, "1 : n on the ground", true, 1, 1e10}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-scale", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = resolved(d, p), p.follows = 0;
                 setGroundScale(p, crsIn(d, p.crs), v.number("scale"));
             });
         }},
        {"panel-rotation",
         "Rotation of {item}",
         {kSheet, kItem, {"degrees", Kind::Number, "degrees clockwise", true, -360, 360}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-rotation", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = resolved(d, p), p.follows = 0;
                 p.rotation = std::remainder(v.number("degrees"), 360.0);
             });
         }},
        {"panel-crs",
         "CRS of {item}",
         {kSheet, kItem, {"crs", Kind::Crs}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-crs", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = resolved(d, p), p.follows = 0;
                 const auto view = viewInCrs(viewOf(p), crsIn(d, p.crs), crsIn(d, v.text("crs")));
                 p.centre = view.centre, p.scale = view.scale;
                 p.crs = v.text("crs");
             });
         }},
        {"panel-place",
         "Set where {item} looks",
         {kSheet, kItem, kCentre, kScale, kTurn},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto view = viewFrom(d, v, "panel-place");
             if (!view) return view.error();
             return withPanel(d, v, "panel-place", [&](MapPanel& p, const crs::CrsPtr&) {
                 p.follows = 0;
                 p.centre = view->centre, p.scale = view->scale, p.rotation = view->rotation;
                 p.crs = d.mapCrs;
             });
         }},
        {"panel-keep",
         "Keep layers of {item}",
         {kSheet, kItem, {"keep", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-keep", [&](MapPanel& p, const crs::CrsPtr&) {
                 if (!v.isOn("keep"))
                     p.frozen.reset();
                 else if (!p.frozen)
                     p.frozen = panelLayers(d, p);
             });
         }},
        {"legend-name",
         "Name in {item}",
         {kSheet, kItem, {"layer", Kind::Layer}, {"name", Kind::Text, "empty: the layer's own"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLegend(d, v, "legend-name", [&](LegendItem& l) {
                 l.names.erase(v.id("layer"));
                 if (!v.text("name").empty()) l.names[v.id("layer")] = v.text("name");
             });
         }},
        {"legend-rename",
         "Rename {layer} everywhere",
         {{"layer", Kind::Layer}, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const Id id = v.id("layer");
             Document out = withLayer(d, id, [&](Layer& l) { l.name = v.text("name"); });
             for (const Sheet& sheet : d.sheets)
                 for (const SheetItem& item : sheet.items)
                     if (const auto* legend = item.as<LegendItem>();
                         legend && legend->names.contains(id))
                         out = withItem(std::move(out), sheet.id, item.id, [id](SheetItem& i) {
                             i.as<LegendItem>()->names.erase(id);
                         });
             return out;
         }},
        {"legend-listed",
         "Entries of {item}",
         {kSheet, kItem, {"layer", Kind::Layer}, {"listed", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLegend(d, v, "legend-listed", [&](LegendItem& l) {
                 std::erase(l.left_out, v.id("layer"));
                 if (!v.isOn("listed")) l.left_out.push_back(v.id("layer"));
             });
         }},
        {"panel-view",
         "View of {item}",
         {kSheet, kItem, {"view", Kind::View}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const MapView view = d.view(v.id("view"))->view;
             return withPanel(d, v, "panel-view", [&](MapPanel& p, const crs::CrsPtr&) {
                 p.follows = 0;
                 p.centre = view.centre, p.scale = view.scale, p.rotation = view.rotation;
                 p.crs = d.mapCrs;
             });
         }},
        {"panel-look",
         "Where {item} looks",
         {kSheet, kItem, {"centre", Kind::Numbers, "x,y in the panel's CRS", false}, kScale, kTurn},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (v.has("centre") && v.numbers("centre").size() != 2)
                 return Error{ErrorCode::InvalidArgument, "panel-look centre", "is not one place",
                              "give two numbers: x,y in the panel's CRS"};
             return withPanel(d, v, "panel-look", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = resolved(d, p), p.follows = 0;
                 if (v.has("centre")) p.centre = {v.numbers("centre")[0], v.numbers("centre")[1]};
                 if (v.has("rotation")) p.rotation = std::remainder(v.number("rotation"), 360.0);
                 if (v.has("scale")) setGroundScale(p, crsIn(d, p.crs), v.number("scale"));
             });
         }},
        {"panel-like",
         "Same as another for {item}",
         {kSheet,
          kItem,
          {"other", Kind::Item},
          {"what", Kind::Choice, "", true, 0, 0, {"scale", "place", "all"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const SheetItem* from = d.sheet(v.id("sheet"))->item(v.id("other"));
             const auto* like = from ? from->as<MapPanel>() : nullptr;
             if (!like)
                 return Error{ErrorCode::InvalidArgument, "panel-like other", "is no map panel",
                              "name a map panel of the sheet"};
             const MapPanel other = resolved(d, *like);
             return withPanel(d, v, "panel-like", [&](MapPanel& p, const crs::CrsPtr& crs) {
                 p = resolved(d, p);
                 p.follows = 0;
                 const crs::CrsPtr theirs = crsIn(d, other.crs);
                 const std::string what = v.text("what");
                 if (what == "scale") return setGroundScale(p, crs, groundScale(other, theirs));
                 if (what == "all") {
                     p.crs = other.crs, p.scale = other.scale, p.rotation = other.rotation;
                     p.centre = other.centre;
                     return;
                 }
                 const MapView view = viewInCrs(viewOf(other), theirs, crs);
                 const double scale = groundScale(p, crs);
                 p.centre = view.centre;
                 setGroundScale(p, crs, scale);
             });
         }},
        {"panel-follow",
         "Follow for {item}",
         {kSheet, kItem, {"what", Kind::Text, "a saved view, a panel of the sheet, or nothing"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const std::string what = v.text("what");
             Id id = 0;
             const auto isMeant = [&what](const auto& one) {
                 return one.name == what || "#" + std::to_string(one.id) == what;
             };
             for (const SavedView& view : d.views)
                 if (isMeant(view)) id = view.id;
             for (const SheetItem& item : d.sheet(v.id("sheet"))->items)
                 if (item.as<MapPanel>() && item.id != v.id("item") && isMeant(item)) id = item.id;
             if (id == 0 && what != "nothing")
                 return Error{ErrorCode::NotFound, "panel-follow what \"" + what + "\"",
                              "is neither a saved view nor another panel of the sheet",
                              "name one, or say nothing"};
             return withPanel(d, v, "panel-follow", [&](MapPanel& p, const crs::CrsPtr&) {
                 if (p.follows == id) return;
                 p = resolved(d, p);  // what it stops following is where it stays
                 p.follows = id;
             });
         }},
        {"panel-lamps",
         "Lamps of {item}",
         {kSheet,
          kItem,
          {"from", Kind::Text, "map (as it is now), a saved view, or follow the map's"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const std::string from = v.text("from");
             std::optional<std::vector<Id>> lit;
             if (from == "map") lit = litLayers(d.layers);
             for (const SavedView& view : d.views)
                 if (view.name == from || "#" + std::to_string(view.id) == from)
                     lit = litLayers(d.layers, view.dark);
             if (!lit && from != "follow")
                 return Error{ErrorCode::NotFound, "panel-lamps from \"" + from + "\"",
                              "is no saved view", "say map, follow, or name a saved view"};
             return withPanel(d, v, "panel-lamps",
                              [&](MapPanel& p, const crs::CrsPtr&) { p.lit = lit; });
         }},
        {"panel-lamp",
         "Lamp of {layer} in {item}",
         {kSheet, kItem, {"layer", Kind::Layer}, {"lit", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-lamp", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = ownLamps(d, p);
                 std::erase(*p.lit, v.id("layer"));
                 if (v.isOn("lit")) p.lit = withLitAt(d, *p.lit, v.id("layer"));
             });
         }},
        {"panel-order",
         "Order of {layer} in {item}",
         {kSheet,
          kItem,
          {"layer", Kind::Layer},
          {"to", Kind::Choice, "", true, 0, 0, {"top", "above", "below", "bottom"}},
          {"of", Kind::Layer, "above or below which", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-order", [&](MapPanel& p, const crs::CrsPtr&) {
                 p = ownLamps(d, p);
                 p.lit =
                     reordered(*p.lit, v.id("layer"), v.text("to"), v.has("of") ? v.id("of") : 0);
             });
         }},
        {"credit-wording",
         "Wording of a credit in {item}",
         {kSheet,
          kItem,
          {"credit", Kind::Text},
          {"wording", Kind::Text, "empty: not shown; the same: as it is"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const SheetItem* item = d.sheet(v.id("sheet"))->item(v.id("item"));
             if (!item || !item->as<CreditsItem>())
                 return Error{ErrorCode::InvalidArgument, "credit-wording item",
                              "is no credits item", "name a credits item of the sheet"};
             return withItem(d, v.id("sheet"), v.id("item"), [&](SheetItem& i) {
                 auto& wording = i.as<CreditsItem>()->wording;
                 wording.erase(v.text("credit"));
                 if (v.text("wording") != v.text("credit"))
                     wording[v.text("credit")] = v.text("wording");
             });
         }},
        {"legend-order",
         "Order of {layer} in {item}",
         {kSheet,
          kItem,
          {"layer", Kind::Layer},
          {"to", Kind::Choice, "", true, 0, 0, {"up", "down"}},
          {"among", Kind::Layers, "all that it lists, as they stand"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto order = v.ids("among");
             const auto at = std::find(order.begin(), order.end(), v.id("layer"));
             if (at == order.end())
                 return Error{ErrorCode::InvalidArgument, "legend-order among", "lacks the layer",
                              "give all layers that the legend lists"};
             if (v.text("to") == "up" && at != order.begin()) std::iter_swap(at, at - 1);
             if (v.text("to") == "down" && at + 1 != order.end()) std::iter_swap(at, at + 1);
             return withLegend(d, v, "legend-order", [&](LegendItem& l) { l.order = order; });
         }},
    };
}

}  // namespace ledge::doc
