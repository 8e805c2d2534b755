#include "core/crs/world_crs.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/edits/project_edits.h"
#include "document/edits/sheet_edits.h"
#include "document/json/described_names.h"
#include "document/json/members.h"
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
        {"project-author",
         "Author of the project",
         {{"author", Kind::Text, "empty: nobody is named"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document next = d;
             next.author = v.text("author");
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
         {kSource, {"crs", Kind::Crs}, {"map-crs", Kind::Crs, "what the map takes with it", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document next = withSource(d, v.id("source"), [&](SourceRef& s) {
                 s.declaredCrs.reset();
                 if (!v.text("crs").empty()) s.declaredCrs = v.text("crs");
             });
             if (!v.has("map-crs")) return next;
             // A map in a local plane counted as the source does; what is kept of it goes along.
             if (next.mapCrs.empty()) next.mapCrs = v.text("crs");
             return withMapCrs(std::move(next), v.text("map-crs"));
         }},
        {"source-path",
         "Point {source} at another file",
         {kSource, {"path", Kind::Text}, {"layer", Kind::Text, "of a file with several", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             if (v.text("path").empty())
                 return Error{ErrorCode::InvalidArgument, "source-path path", "is empty",
                              "give the path of a file"};
             const auto path = std::filesystem::absolute(v.text("path")).lexically_normal();
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 // What is said of the old file does not hold for another.
                 if (s.path != path) s.shiftGrid.reset(), s.lineage.reset();
                 s.path = path;
                 s.layer = v.has("layer") ? v.text("layer") : std::string();
             });
         }},
        {"source-set",
         "{member} of {source}",
         {kSource,
          {"member", Kind::Text},
          {"value", Kind::Text},
          {"said", Kind::Text, "what the undo list calls it", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto next =
                 withMember(*d.source(v.id("source")), v.text("member"), v.text("value"));
             if (!next) return next.error();
             return withSource(d, v.id("source"), [&](SourceRef& s) { s = *next; });
         }},
        {"source-shift-grid",
         "Datum shift grid of {source}",
         {kSource,
          {"path", Kind::Text, "", false},
          {"target", Kind::Number, "code of the geographic CRS it leads to", false, 1, 1e6}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const std::filesystem::path path = v.has("path") ? v.text("path") : std::string();
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 s.shiftGrid.reset();
                 if (path.empty()) return;
                 s.shiftGrid = ShiftGrid{std::filesystem::absolute(path).lexically_normal(),
                                         v.has("target") ? static_cast<int>(v.number("target"))
                                                         : ShiftGrid{}.target};
             });
         }},
        {"units",
         "Units",
         {{"lengths",
           Kind::Choice,
           "",
           false,
           0,
           0,
           {kNames<LengthUnit>.begin(), kNames<LengthUnit>.end()}},
          {"coordinates",
           Kind::Choice,
           "",
           false,
           0,
           0,
           {kNames<CoordinateForm>.begin(), kNames<CoordinateForm>.end()}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document next = d;
             const auto take = [&]<typename E>(const char* name, E& value) {
                 if (!v.has(name)) return;
                 for (std::size_t i = 0; i < kNames<E>.size(); ++i)
                     if (v.text(name) == kNames<E>[i]) value = static_cast<E>(i);
             };
             take("lengths", next.display.lengths);
             take("coordinates", next.display.coordinates);
             return next;
         }},
        {"custom-crs",
         "Own CRS {name}",
         {{"name", Kind::Text}, {"wkt", Kind::Crs}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withCustomCrs(d, {v.text("name"), v.text("wkt")});
         }},
        {"grid-lines-add",
         "Add {name}",
         {{"name", Kind::Text},
          {"lines", Kind::Choice, "", true, 0, 0, {"graticule", "grid"}},
          {"crs", Kind::Crs, "", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             for (const LayerPtr& there : allLayers(d.layers))
                 if (there->name == v.text("name") && there->as<GridLines>()) return d;
             Layer layer;
             layer.name = v.text("name");
             GridLines lines;
             lines.style.isGraticule = v.text("lines") == "graticule";
             if (v.has("crs")) lines.style.crs = v.text("crs");
             // On maps of the world the globe belongs to its net of lines.
             lines.style.hasOutline = lines.style.isGraticule;
             lines.style.hasSea = lines.style.isGraticule && crs::worldCentre(d.mapCrs).has_value();
             layer.content = lines;
             return addLayer(d, std::move(layer)).first;
         }},
        {"source-height-unit",
         "Height unit of {source}",
         {kSource, {"unit", Kind::Choice, "", true, 0, 0, {"metre", "foot"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 s.heightUnit = v.text("unit") == "foot" ? HeightUnit::Foot : HeightUnit::Metre;
             });
         }},
        {"source-reading",
         "How {source} is read",
         {kSource,
          {"encoding", Kind::Text, "such as UTF-8 or windows-1252; empty: as the file says", false},
          {"delimiter", Kind::Text, "between cells; \"tab\" for one", false},
          {"decimals", Kind::Choice, "", false, 0, 0, {"point", "comma", "told"}},
          {"header", Kind::Choice, "", false, 0, 0, {"yes", "no", "told"}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [&](SourceRef& s) {
                 Reading& r = s.reading;
                 if (v.has("encoding")) r.encoding = v.text("encoding");
                 if (v.has("delimiter"))
                     r.delimiter = v.text("delimiter") == "tab" ? "\t" : v.text("delimiter");
                 if (v.has("decimals"))
                     r.decimalSign = v.text("decimals") == "point"   ? "."
                                     : v.text("decimals") == "comma" ? ","
                                                                     : "";
                 if (v.has("header"))
                     r.hasHeader = v.text("header") == "told"
                                       ? std::nullopt
                                       : std::optional(v.text("header") == "yes");
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
        {"profile-save",
         "Keep profile {name}",
         {{"name", Kind::Text},
          {"line", Kind::Numbers, "x1,y1,x2,y2,…"},
          {"crs", Kind::Crs},
          {"sources", Kind::Sources, "rasters, separated by commas"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             SavedProfile profile;
             profile.name = v.text("name");
             profile.crs = v.text("crs");
             const auto& at = v.numbers("line");
             if (at.size() < 4 || at.size() % 2 != 0)
                 return Error{ErrorCode::InvalidArgument, "profile-save line",
                              "is no line of two places or more", "give x1,y1,x2,y2,…"};
             for (std::size_t i = 0; i + 1 < at.size(); i += 2)
                 profile.line.push_back({at[i], at[i + 1]});
             profile.sources = v.ids("sources");
             return saveProfile(d, std::move(profile)).first;
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
