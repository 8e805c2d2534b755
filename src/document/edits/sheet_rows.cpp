#include <algorithm>

#include "document/edits/edit_table.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/kinds.h"
#include "document/map_crs.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kSheet{"sheet", Kind::Sheet};
const EditArgument kItem{"item", Kind::Item};
const EditArgument kWidth{"width", Kind::Number, "mm", true, 10, 5000};
const EditArgument kHeight{"height", Kind::Number, "mm", true, 10, 5000};
// Where a map looks; as the map did when it was saved where nothing is said.
const EditArgument kCentre{"centre", Kind::Numbers, "x,y in the map's CRS", false};
const EditArgument kScale{"scale", Kind::Number, "1 : n on the ground", false, 1, 1e10};
const EditArgument kTurn{"rotation", Kind::Number, "degrees clockwise", false, -360, 360};
const EditArgument kRect{"rect", Kind::Numbers, "left,top,width,height in mm"};

Result<PageRect> rectOf(const EditValues& v, const char* edit) {
    const auto& r = v.numbers("rect");
    if (r.size() == 4 && r[2] > 0 && r[3] > 0) return PageRect{r[0], r[1], r[2], r[3]};
    return Error{ErrorCode::InvalidArgument, std::string(edit) + " rect", "is no rectangle",
                 "give left,top,width,height in mm"};
}

Result<MapView> viewFrom(const Document& d, const EditValues& v, const char* edit) {
    MapView view = d.lastView;
    if (v.has("centre")) {
        const auto& at = v.numbers("centre");
        if (at.size() != 2)
            return Error{ErrorCode::InvalidArgument, std::string(edit) + " centre",
                         "is not one place", "give two numbers: x,y in the map's CRS"};
        view.centre = {at[0], at[1]};
    }
    if (v.has("rotation")) view.rotation = v.number("rotation");
    return v.has("scale") ? atGroundScale(view, mapCrs(d), v.number("scale")) : view;
}

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

std::vector<std::string_view> itemKinds() {
    std::vector<std::string_view> out;
    forEachKind<SheetContent>([&out]<typename T>(const T&) {
        if constexpr (!std::is_same_v<T, UnknownItem>) out.push_back(kItemKind<T>.name);
    });
    return out;
}

// An item of a kind as it is when nobody has said more; map things belong to the sheet's first
// panel.
SheetItem freshItem(const Document& d, const Sheet& sheet, const std::string& kind) {
    SheetItem item;
    forItemKind(kind, [&](auto content) { item.content = std::move(content); });
    const SheetItem* panel = sheet.panel(0);
    const Id panelId = panel ? panel->id : 0;
    if (auto* p = item.as<MapPanel>()) {
        p->centre = d.lastView.centre, p->scale = d.lastView.scale;
        p->rotation = d.lastView.rotation, p->crs = d.mapCrs;
    }
    if (auto* l = item.as<LegendItem>()) l->panel = panelId;
    if (auto* b = item.as<ScaleBarItem>()) b->panel = panelId;
    if (auto* n = item.as<NorthArrowItem>()) n->panel = panelId;
    if (auto* p = item.as<ProfileItem>()) p->profile = d.profiles.empty() ? 0 : d.profiles[0].id;
    return item;
}
}  // namespace

std::vector<NamedEdit> sheetEditRows() {
    return {
        {"sheet-add",
         "New sheet {name}",
         {{"name", Kind::Text}, kWidth, kHeight, kCentre, kScale, kTurn},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto same = std::find_if(d.sheets.begin(), d.sheets.end(), [&](const Sheet& s) {
                 return s.name == v.text("name");
             });
             if (same != d.sheets.end())
                 return resizeSheet(d, (*same)->id, v.number("width"), v.number("height"), true);
             const auto view = viewFrom(d, v, "sheet-add");
             if (!view) return view.error();
             return addSheet(d, v.text("name"), v.number("width"), v.number("height"), *view).first;
         }},
        {"sheet-name",
         "Rename sheet {sheet}",
         {kSheet, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& s) { s.name = v.text("name"); });
         }},
        {"sheet-size",
         "Page size of {sheet}",
         {kSheet, kWidth, kHeight, {"fit", Kind::Yes, "", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return resizeSheet(d, v.id("sheet"), v.number("width"), v.number("height"),
                                !v.has("fit") || v.isOn("fit"));
         }},
        {"sheet-remove",
         "Remove sheet {sheet}",
         {{"sheet", Kind::Sheet, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeSheet(d, v.id("sheet"));
         }},
        {"item-add",
         "Add {name}",
         {kSheet,
          {"kind", Kind::Choice, "", true, 0, 0, itemKinds()},
          {"name", Kind::Text},
          kRect,
          kCentre,
          kScale,
          kTurn,
          {"text", Kind::Text, "of a text", false},
          {"profile", Kind::Profile, "of a profile", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto rect = rectOf(v, "item-add");
             if (!rect) return rect.error();
             const Sheet& sheet = *d.sheet(v.id("sheet"));
             for (const SheetItem& there : sheet.items)
                 if (there.name == v.text("name") && itemKind(there) == v.text("kind"))
                     return withItem(d, sheet.id, there.id, [&](SheetItem& i) { i.rect = *rect; });
             SheetItem item = freshItem(d, sheet, v.text("kind"));
             if (auto* panel = item.as<MapPanel>()) {
                 const auto view = viewFrom(d, v, "item-add");
                 if (!view) return view.error();
                 panel->centre = view->centre, panel->scale = view->scale;
                 panel->rotation = view->rotation;
             }
             if (auto* text = item.as<TextItem>(); text && v.has("text"))
                 text->text = v.text("text");
             if (auto* profile = item.as<ProfileItem>(); profile && v.has("profile"))
                 profile->profile = v.id("profile");
             item.name = v.text("name");
             item.rect = *rect;
             return addItem(d, sheet.id, std::move(item)).first;
         }},
        {"item-name",
         "Rename {item}",
         {kSheet, kItem, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withItem(d, v.id("sheet"), v.id("item"),
                             [&](SheetItem& i) { i.name = v.text("name"); });
         }},
        {"item-rect",
         "Place {item}",
         {kSheet, kItem, kRect},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto rect = rectOf(v, "item-rect");
             if (!rect) return rect.error();
             return withItem(d, v.id("sheet"), v.id("item"), [&](SheetItem& i) { i.rect = *rect; });
         }},
        {"item-visible",
         "Show or hide {item}",
         {kSheet, kItem, {"visible", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withItem(d, v.id("sheet"), v.id("item"),
                             [&](SheetItem& i) { i.isHidden = !v.isOn("visible"); });
         }},
        {"item-locked",
         "Lock {item}",
         {kSheet, kItem, {"locked", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withItem(d, v.id("sheet"), v.id("item"),
                             [&](SheetItem& i) { i.isLocked = v.isOn("locked"); });
         }},
        {"item-remove",
         "Remove {item}",
         {kSheet, {"item", Kind::Item, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeItem(d, v.id("sheet"), v.id("item"));
         }},
        {"item-set",
         "{member} of {item}",
         {kSheet, kItem, {"member", Kind::Text}, {"value", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto next = withMember(*d.sheet(v.id("sheet"))->item(v.id("item")),
                                          v.text("member"), v.text("value"));
             if (!next) return next.error();
             return withItem(d, v.id("sheet"), v.id("item"), [&](SheetItem& i) { i = *next; });
         }},
        {"panel-scale",
         "Scale of {item}",
         {kSheet, kItem, {"scale", Kind::Number, "1 : n on the ground", true, 1, 1e10}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-scale", [&](MapPanel& p, const crs::CrsPtr& crs) {
                 setGroundScale(p, crs, v.number("scale"));
             });
         }},
        {"panel-rotation",
         "Rotation of {item}",
         {kSheet, kItem, {"degrees", Kind::Number, "degrees clockwise", true, -360, 360}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-rotation", [&](MapPanel& p, const crs::CrsPtr&) {
                 p.rotation = std::remainder(v.number("degrees"), 360.0);
             });
         }},
        {"panel-crs",
         "CRS of {item}",
         {kSheet, kItem, {"crs", Kind::Crs}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withPanel(d, v, "panel-crs", [&](MapPanel& p, const crs::CrsPtr& from) {
                 const auto view = viewInCrs(viewOf(p), from, crsIn(d, v.text("crs")));
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
                     p.frozen = d.layers;
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
                 p.centre = view.centre, p.scale = view.scale, p.rotation = view.rotation;
                 p.crs = d.mapCrs;
             });
         }},
    };
}

}  // namespace ledge::doc
