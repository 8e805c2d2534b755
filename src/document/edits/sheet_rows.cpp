#include <algorithm>

#include "core/base/paper.h"
#include "document/edits/sheet_arguments.h"
#include "document/edits/sheet_edits.h"
#include "document/edits/sheet_templates.h"
#include "document/json/members.h"
#include "document/json/sheet_text.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

std::vector<std::string_view> templateNames() {
    std::vector<std::string_view> out;
    for (const SheetTemplate& one : sheetTemplates()) out.push_back(one.name);
    return out;
}
std::vector<std::string_view> pageNames() {
    std::vector<std::string_view> out;
    for (const NamedPage& page : namedPages()) out.push_back(page.name);
    return out;
}
}  // namespace

std::vector<NamedEdit> sheetEditRows() {
    return {
        {"sheet-add",
         "New sheet {name}",
         {{"name", Kind::Text},
          {"width", Kind::Length, "mm; as the template has it", false, 10, 5000},
          {"height", Kind::Length, "mm", false, 10, 5000},
          {"page", Kind::Choice, "in place of width and height, upright", false, 0, 0, pageNames()},
          {"across", Kind::Yes, "the page's longer side lies", false},
          {"template", Kind::Choice, "", false, 0, 0, templateNames()},
          kCentre,
          kScale,
          kTurn},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const SheetTemplate& from =
                 v.has("template") ? *sheetTemplate(v.text("template")) : sheetTemplates().front();
             double width = v.has("width") ? v.number("width") : from.widthMm;
             double height = v.has("height") ? v.number("height") : from.heightMm;
             if (v.has("page")) {
                 const NamedPage& page = *pageNamed(v.text("page"));
                 width = page.widthMm, height = page.heightMm;
             }
             if (v.has("across") && v.isOn("across") != (width > height)) std::swap(width, height);
             for (const Sheet& there : d.sheets)
                 if (there.name == v.text("name"))
                     return resizeSheet(d, there.id, width, height, true);
             const auto view = viewFrom(d, v, "sheet-add");
             if (!view) return view.error();
             Sheet sheet;
             sheet.name = v.text("name");
             sheet.widthMm = width, sheet.heightMm = height;
             Id place = 0;
             for (SheetItem& item : from.items(width, height, *view, d.mapCrs)) {
                 item.id = ++place;
                 sheet.items.push_back(std::move(item));
             }
             return addSheet(d, std::move(sheet)).first;
         }},
        {"sheet-from",
         "New sheet {name}",
         {{"name", Kind::Text},
          {"text", Kind::Text, "as a .ledgesheet file has it"},
          {"folder", Kind::Text, "that pictures are looked for in", false},
          kCentre,
          kScale,
          kTurn},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto sheet = sheetFromText(v.text("text"), v.has("folder") ? v.text("folder") : "");
             if (!sheet) return sheet.error();
             sheet->name = v.text("name");
             const auto view = viewFrom(d, v, "sheet-from");
             if (!view) return view.error();
             if (v.has("centre"))
                 for (Shared<SheetItem>& one : sheet->items)
                     one.change([&](SheetItem& item) {
                         auto* panel = item.as<MapPanel>();
                         if (!panel) return;
                         panel->centre = view->centre, panel->scale = view->scale;
                         panel->rotation = view->rotation, panel->crs = d.mapCrs;
                     });
             return addSheet(d, *std::move(sheet)).first;
         }},
        {"sheet-copy",
         "Copy of {sheet}",
         {kSheet, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Sheet copy = *d.sheet(v.id("sheet"));
             if (copy.name == v.text("name"))
                 return Error{ErrorCode::InvalidArgument, "sheet-copy name", "is the sheet's own",
                              "give the copy another name"};
             copy.name = v.text("name");
             return addSheet(d, std::move(copy)).first;
         }},
        {"sheet-set",
         "{member} of {sheet}",
         {kSheet, {"member", Kind::Text}, {"value", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto next =
                 withMember(*d.sheet(v.id("sheet")), v.text("member"), v.text("value"));
             if (!next) return next.error();
             if (next->series.over != SeriesOver::Nothing && next->series.layer != 0 &&
                 !d.layer(next->series.layer))
                 return Error{ErrorCode::NotFound, "sheet-set series", "its layer is not there",
                              "give the id of a layer of the project"};
             return withSheet(d, v.id("sheet"), [&](Sheet& s) { s = *next; });
         }},
        {"series-filter",
         "Filter {layer} on pages of {sheet}",
         {kSheet,
          {"layer", Kind::Layer},
          {"condition", Kind::Text, "may name {feature: formula} of the page; empty: none"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const Id id = v.id("layer");
             if (!d.layer(id)->as<VectorLayer>())
                 return Error{ErrorCode::InvalidArgument, "series-filter layer",
                              "\"" + d.layer(id)->name + "\" is no layer of features",
                              "name a layer of features"};
             return withSheet(d, v.id("sheet"), [&](Sheet& s) {
                 s.series.filters.erase(id);
                 if (!v.text("condition").empty()) s.series.filters[id] = v.text("condition");
             });
         }},
        {"sheet-name",
         "Rename sheet {sheet}",
         {kSheet, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSheet(d, v.id("sheet"), [&](Sheet& s) { s.name = v.text("name"); });
         }},
        {"sheet-size",
         "Page size of {sheet}",
         {kSheet,
          {"width", Kind::Length, "mm", true, 10, 5000},
          {"height", Kind::Length, "mm", true, 10, 5000},
          {"fit", Kind::Yes, "panels and items", false},
          {"fit_type", Kind::Yes, "sizes of type", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return resizeSheet(d, v.id("sheet"), v.number("width"), v.number("height"),
                                !v.has("fit") || v.isOn("fit"),
                                v.has("fit_type") && v.isOn("fit_type"));
         }},
        {"sheet-remove",
         "Remove sheet {sheet}",
         {{"sheet", Kind::Sheet, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeSheet(d, v.id("sheet"));
         }},
    };
}

}  // namespace ledge::doc
