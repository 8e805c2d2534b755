#include <algorithm>

#include "document/edits/item_layout.h"
#include "document/edits/shape_corners.h"
#include "document/edits/sheet_arguments.h"
#include "document/edits/sheet_edits.h"
#include "document/json/members.h"
#include "document/json/sheet_text.h"
#include "document/kinds.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

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
        item.frameMm = kNeatLineMm;
        p->centre = d.lastView.centre, p->scale = d.lastView.scale;
        p->rotation = d.lastView.rotation, p->crs = d.mapCrs;
    }
    if (auto* l = item.as<LegendItem>()) l->panel = panelId;
    if (auto* b = item.as<ScaleBarItem>()) b->panel = panelId;
    if (auto* n = item.as<NorthArrowItem>()) n->panel = panelId;
    const auto firstVector = [&]() -> Id {
        for (const LayerPtr& layer : allLayers(d.layers))
            if (layer->as<VectorLayer>()) return layer->id;
        return 0;
    };
    if (auto* t = item.as<TableItem>()) t->layer = firstVector();
    if (auto* c = item.as<ChartItem>()) c->layer = firstVector();
    if (auto* p = item.as<ProfileItem>()) p->profile = d.profiles.empty() ? 0 : d.profiles[0].id;
    return item;
}

std::vector<std::string_view> names(std::span<const std::string_view> all) {
    return {all.begin(), all.end()};
}
template <std::size_t N>
std::size_t placeOf(const std::array<std::string_view, N>& names, const std::string& name) {
    return static_cast<std::size_t>(std::find(names.begin(), names.end(), name) - names.begin());
}
}  // namespace

namespace {
// The corners that an edit gives a polygon or a line.
Result<std::vector<Point>> cornersFrom(const EditValues& v, const SheetItem& item,
                                       const std::string& edit) {
    const auto* shape = item.as<ShapeItem>();
    if (!shape || (shape->form != ShapeForm::Polygon && shape->form != ShapeForm::Line))
        return Error{ErrorCode::InvalidArgument, edit + " points", "is no polygon and no line",
                     "name a shape with corners"};
    const auto& numbers = v.numbers("points");
    const std::size_t least = shape->form == ShapeForm::Polygon ? 3 : 2;
    if (numbers.size() % 2 != 0 || numbers.size() / 2 < least)
        return Error{ErrorCode::InvalidArgument, edit + " points",
                     std::to_string(numbers.size()) + " numbers are given",
                     "give x and y of " + std::to_string(least) + " points or more"};
    std::vector<Point> out;
    for (std::size_t i = 0; i < numbers.size(); i += 2) out.push_back({numbers[i], numbers[i + 1]});
    return out;
}
}  // namespace

std::vector<NamedEdit> itemEditRows() {
    return {
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
          {"profile", Kind::Profile, "of a profile", false},
          {"layer", Kind::Layer, "of a table or chart", false},
          {"file", Kind::Text, "of a picture", false},
          {"with", Kind::Text, "members as a JSON object", false},
          {"points", Kind::Numbers, "corners of a polygon or line: x,y,x,y,… in mm", false},
          {"panel", Kind::Item, "of legends, scale bars and arrows", false}},
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
             if (v.has("layer")) {
                 if (auto* table = item.as<TableItem>()) table->layer = v.id("layer");
                 if (auto* chart = item.as<ChartItem>()) chart->layer = v.id("layer");
             }
             if (auto* picture = item.as<PictureItem>(); picture && v.has("file"))
                 picture->file = v.text("file");
             if (v.has("panel"))
                 std::visit(
                     [&](auto& content) {
                         if constexpr (requires { content.panel; }) content.panel = v.id("panel");
                     },
                     item.content);
             if (v.has("with")) {
                 auto with = withMembers(item, v.text("with"));
                 if (!with) return with.error();
                 item = *std::move(with);
             }
             item.name = v.text("name");
             item.rect = *rect;
             if (v.has("points")) {
                 // Until they are given a shape has none.
                 if (auto* shape = item.as<ShapeItem>(); shape && shape->points.empty())
                     shape->points = {{0, 0}, {1, 1}};
                 const auto points = cornersFrom(v, item, "item-add");
                 if (!points) return points.error();
                 setCorners(item, *points);
             }
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
        {"shape-corners",
         "Corners of {item}",
         {kSheet, kItem, {"points", Kind::Numbers, "mm from the page's upper left: x,y,x,y,…"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const SheetItem* item = d.sheet(v.id("sheet"))->item(v.id("item"));
             if (!item || cornersOf(*item).empty())
                 return Error{ErrorCode::InvalidArgument, "shape-corners item",
                              "is no polygon and no line", "name a shape with corners"};
             const auto points = cornersFrom(v, *item, "shape-corners");
             if (!points) return points.error();
             return withItem(d, v.id("sheet"), v.id("item"),
                             [&](SheetItem& i) { setCorners(i, *points); });
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
        {"items-set",
         "{member} of {items}",
         {kSheet, kItems, {"member", Kind::Text}, {"value", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             // Items that have no such member stay as they are; one at least has it.
             const Sheet& sheet = *d.sheet(v.id("sheet"));
             std::map<Id, SheetItem> changed;
             std::optional<Error> trouble;
             for (const Id id : v.ids("items")) {
                 const SheetItem& item = *sheet.item(id);
                 auto next = withMember(item, v.text("member"), v.text("value"));
                 if (next)
                     changed.emplace(id, *std::move(next));
                 else if (!trouble || next.error().code != ErrorCode::NotFound)
                     trouble = next.error();
                 if (trouble && trouble->code != ErrorCode::NotFound) return *trouble;
             }
             if (changed.empty() && trouble) return *trouble;
             return withSheet(d, v.id("sheet"), [&](Sheet& next) {
                 for (Shared<SheetItem>& one : next.items)
                     if (const auto it = changed.find(one->id); it != changed.end())
                         one.change([&](SheetItem& item) { item = it->second; });
             });
         }},
        {"items-place",
         "Place {items}",
         {kSheet, kItems, {"rects", Kind::Lengths, "left,top,width,height of each, in mm"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto& r = v.numbers("rects");
             const auto& ids = v.ids("items");
             if (r.size() != 4 * ids.size())
                 return Error{ErrorCode::InvalidArgument, "items-place rects",
                              "are not as many as the items", "give four numbers for each item"};
             for (std::size_t i = 0; i < ids.size(); ++i)
                 if (!(r[4 * i + 2] > 0 && r[4 * i + 3] > 0))
                     return Error{ErrorCode::InvalidArgument, "items-place rects",
                                  "hold one without size", "give widths and heights above zero"};
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 for (Shared<SheetItem>& one : sheet.items)
                     for (std::size_t i = 0; i < ids.size(); ++i)
                         if (one->id == ids[i])
                             one.change([&](SheetItem& item) {
                                 item.rect = {r[4 * i], r[4 * i + 1], r[4 * i + 2], r[4 * i + 3]};
                             });
             });
         }},
        {"items-align",
         "Align {items}",
         {kSheet, kItems, {"edge", Kind::Choice, "", true, 0, 0, names(kEdgeNames)}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 alignItems(sheet, v.ids("items"),
                            static_cast<Edge>(placeOf(kEdgeNames, v.text("edge"))));
             });
         }},
        {"items-distribute",
         "Distribute {items}",
         {kSheet, kItems, {"way", Kind::Choice, "", true, 0, 0, {"across", "down"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 distributeItems(sheet, v.ids("items"), v.text("way") == "across");
             });
         }},
        {"items-size",
         "Same size for {items}",
         {kSheet,
          kItems,
          {"as", Kind::Choice, "the first is", true, 0, 0, {"width", "height", "both"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 sizeItems(sheet, v.ids("items"), v.text("as") != "height",
                           v.text("as") != "width");
             });
         }},
        {"items-order",
         "Order of {items}",
         {kSheet,
          kItems,
          {"to", Kind::Choice, "", true, 0, 0, names(kLayeringNames)},
          {"of", Kind::Item, "above or below which", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto to = static_cast<Layering>(placeOf(kLayeringNames, v.text("to")));
             const bool isBeside = to == Layering::Above || to == Layering::Below;
             const auto& items = v.ids("items");
             if (isBeside &&
                 (!v.has("of") || std::find(items.begin(), items.end(), v.id("of")) != items.end()))
                 return Error{ErrorCode::InvalidArgument, "items-order of", "is no other item",
                              "name the one they shall be above or below"};
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 orderItems(sheet, items, to, isBeside ? v.id("of") : 0);
             });
         }},
        {"items-group",
         "Group {items}",
         {kSheet, kItems, {"grouped", Kind::Yes}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 v.isOn("grouped") ? groupItems(sheet, v.ids("items"))
                                   : ungroupItems(sheet, v.ids("items"));
             });
         }},
        {"items-remove",
         "Remove {items}",
         {kSheet, {"items", Kind::Items, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto& ids = v.ids("items");
             return withSheet(d, v.id("sheet"), [&](Sheet& sheet) {
                 std::erase_if(sheet.items, [&](const SheetItem& one) {
                     return std::find(ids.begin(), ids.end(), one.id) != ids.end();
                 });
             });
         }},
        {"items-paste",
         "Paste items",
         {kSheet, {"text", Kind::Text, "items as they were copied"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto items = itemsFromText(v.text("text"));
             if (!items) return items.error();
             return addItems(d, v.id("sheet"), *std::move(items));
         }},
        {"item-pin",
         "Pin {item}",
         {kSheet,
          kItem,
          {"side", Kind::Choice, "", true, 0, 0, {"left", "top", "right", "bottom"}},
          {"to", Kind::Text, "an item, page, or nothing to let go"},
          {"to_side", Kind::Choice, "as side", false, 0, 0, {"left", "top", "right", "bottom"}},
          {"distance", Kind::Length, "mm right or down of it; as it is now", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             constexpr std::array<std::string_view, 4> kSides{"left", "top", "right", "bottom"};
             const Sheet& sheet = *d.sheet(v.id("sheet"));
             const auto side = static_cast<Side>(placeOf(kSides, v.text("side")));
             const auto ofSide =
                 v.has("to_side") ? static_cast<Side>(placeOf(kSides, v.text("to_side"))) : side;
             const auto across = [](Side s) { return s == Side::Left || s == Side::Right; };
             if (across(side) != across(ofSide))
                 return Error{ErrorCode::InvalidArgument, "item-pin to_side",
                              "lies across the side",
                              "pin left or right to left or right, top or bottom to top or bottom"};
             Id of = 0;
             const std::string to = v.text("to");
             if (to != "page" && to != "nothing") {
                 for (const SheetItem& one : sheet.items)
                     if (one.name == to || "#" + std::to_string(one.id) == to) of = one.id;
                 if (of == 0 || of == v.id("item"))
                     return Error{ErrorCode::NotFound, "item-pin to \"" + to + "\"",
                                  "is no other item of the sheet",
                                  "name one, or say page or nothing"};
             }
             const auto at = [](const PageRect& r, Side s) {
                 return s == Side::Left    ? r.left
                        : s == Side::Right ? r.left + r.width
                        : s == Side::Top   ? r.top
                                           : r.top + r.height;
             };
             const SheetItem& item = *sheet.item(v.id("item"));
             const PageRect page{0, 0, sheet.widthMm, sheet.heightMm};
             const double now =
                 at(item.rect, side) - at(of != 0 ? sheet.item(of)->rect : page, ofSide);
             const ItemPin pin{side, of, ofSide, v.has("distance") ? v.number("distance") : now};
             return withItem(d, sheet.id, item.id, [&](SheetItem& i) {
                 std::erase_if(i.pins, [&](const ItemPin& one) { return one.side == side; });
                 if (to != "nothing") i.pins.push_back(pin);
             });
         }},
    };
}

}  // namespace ledge::doc
