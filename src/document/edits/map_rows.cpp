#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kSource{"source", Kind::Source};
const EditArgument kView{"view", Kind::View};

Error notTwo(const char* edit) {
    return {ErrorCode::InvalidArgument, std::string(edit) + " centre", "is not one place",
            "give two numbers: x,y in the map's CRS"};
}
}  // namespace

std::vector<NamedEdit> mapEditRows() {
    return {
        {"project-name",
         "Name project",
         {{"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document next = d;
             next.name = v.text("name");
             return next;
         }},
        {"map-crs",
         "CRS of map",
         {{"crs", Kind::Crs}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withMapCrs(d, v.text("crs"));
         }},
        {"datum-operation",
         "Datum operation",
         {{"one", Kind::Number, "code of a geographic CRS", true, 1, 1e6},
          {"other", Kind::Number, "code of a geographic CRS", true, 1, 1e6},
          {"operation", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withDatumChoice(d, {static_cast<int>(v.number("one")),
                                        static_cast<int>(v.number("other")), v.text("operation")});
         }},
        {"source-crs",
         "Declare CRS of {source}",
         {kSource, {"crs", Kind::Crs}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 s.declaredCrs.reset();
                 if (!v.text("crs").empty()) s.declaredCrs = v.text("crs");
             });
         }},
        {"source-height-unit",
         "Height unit of {source}",
         {kSource, {"unit", Kind::Choice, "", true, 0, 0, {"metre", "foot"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 s.heightUnit = v.text("unit") == "foot" ? HeightUnit::Foot : HeightUnit::Metre;
             });
         }},
        {"source-credit",
         "Credit of {source}",
         {kSource, {"credit", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"),
                               [&](SourceRef& s) { s.credit = v.text("credit"); });
         }},
        {"view-save",
         "Save view {name}",
         {{"name", Kind::Text},
          {"centre", Kind::Numbers, "x,y in the map's CRS"},
          {"scale", Kind::Number, "1 : n on the ground", true, 1, 1e10},
          {"rotation", Kind::Number, "degrees clockwise", false, -360, 360}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto& at = v.numbers("centre");
             if (at.size() != 2) return notTwo("view-save");
             MapView view{{at[0], at[1]}, 1, v.has("rotation") ? v.number("rotation") : 0};
             view = atGroundScale(view, mapCrs(d), v.number("scale"));
             return saveView(d, v.text("name"), view).first;
         }},
        {"view-name",
         "Rename view {view}",
         {kView, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return renameView(d, v.id("view"), v.text("name"));
         }},
        {"view-lamps",
         "Lamps of view {view}",
         {kView},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withLampsOf(d, v.id("view"));
         }},
        {"view-remove",
         "Remove view {view}",
         {{"view", Kind::View, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeView(d, v.id("view"));
         }},
        {"profile-name",
         "Rename profile {profile}",
         {{"profile", Kind::Profile}, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return renameProfile(d, v.id("profile"), v.text("name"));
         }},
        {"profile-remove",
         "Remove profile {profile}",
         {{"profile", Kind::Profile, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return removeProfile(d, v.id("profile"));
         }},
    };
}

}  // namespace ledge::doc
