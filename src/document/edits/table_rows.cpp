#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/json/described.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kSource{"source", Kind::Source};
const EditArgument kRow{"row", Kind::Number, "key of the feature", true, -9e15, 9e15};
const EditArgument kField{"field", Kind::Text};
const EditArgument kShape{"type",
                          Kind::Choice,
                          "",
                          true,
                          0,
                          0,
                          {kNames<GeometryType>.begin(), kNames<GeometryType>.end()}};
const EditArgument kPoints{"points", Kind::Numbers, "x1,y1,x2,y2,… in the source's CRS", false};

Result<Document> withEdit(const Document& d, const EditValues& v, TableEdit edit) {
    const SourceRef& source = *d.source(v.id("source"));
    if (!source.isFile())
        return Error{ErrorCode::InvalidArgument, "edit of a table", source.name + " is no file",
                     "name a source with a table of its own"};
    return withSource(d, source.id, [&](SourceRef& s) {
        s.edits = Shared<EditLog>(s.edits->with(std::move(edit)));
    });
}

FeatureKey rowOf(const EditValues& v) { return static_cast<FeatureKey>(v.number("row")); }

template <typename E>
E named(const std::string& word) {
    for (std::size_t i = 0; i < kNames<E>.size(); ++i)
        if (word == kNames<E>[i]) return static_cast<E>(i);
    return {};
}

Result<std::vector<Point>> pointsOf(const EditValues& v, GeometryType type, const char* edit) {
    std::vector<Point> out;
    if (v.has("points")) {
        const auto& at = v.numbers("points");
        for (std::size_t i = 0; i + 1 < at.size(); i += 2) out.push_back({at[i], at[i + 1]});
        if (at.size() % 2 != 0) out.clear();
    }
    const std::size_t least = type == GeometryType::None    ? 0
                              : type == GeometryType::Point ? 1
                              : type == GeometryType::Line  ? 2
                                                            : 3;
    if (out.size() >= least && (type == GeometryType::None) == out.empty()) return out;
    return Error{ErrorCode::InvalidArgument, std::string(edit) + " points",
                 "make no " + std::string(kNames<GeometryType>[static_cast<std::size_t>(type)]),
                 "give x1,y1,x2,y2,… in the source's CRS"};
}
}  // namespace

std::vector<NamedEdit> tableEditRows() {
    return {
        {"cell-set",
         "{field} in {source}",
         {kSource, kRow, kField, {"value", Kind::Text, "left out: missing", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             CellEdit cell{rowOf(v), v.text("field"), {}};
             if (v.has("value")) cell.value = v.text("value");
             return withEdit(d, v, cell);
         }},
        {"geometry-set",
         "Shape in {source}",
         {kSource, kRow, kShape, kPoints},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto type = named<GeometryType>(v.text("type"));
             const auto points = pointsOf(v, type, "geometry-set");
             if (!points) return points.error();
             return withEdit(d, v, GeometryEdit{rowOf(v), type, *points});
         }},
        {"row-add",
         "Add row to {source}",
         {kSource, kRow, kShape, kPoints},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             const auto type = named<GeometryType>(v.text("type"));
             const auto points = pointsOf(v, type, "row-add");
             if (!points) return points.error();
             return withEdit(d, v, RowAdded{rowOf(v), type, *points});
         }},
        {"row-remove",
         "Remove row of {source}",
         {kSource, kRow},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withEdit(d, v, RowRemoved{rowOf(v)});
         }},
        {"column-add",
         "Add column {name} to {source}",
         {kSource,
          {"name", Kind::Text},
          {"type",
           Kind::Choice,
           "",
           true,
           0,
           0,
           {kNames<FieldType>.begin(), kNames<FieldType>.end()}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withEdit(d, v, ColumnAdded{{v.text("name"), named<FieldType>(v.text("type"))}});
         }},
        {"column-remove",
         "Remove column {name} of {source}",
         {kSource, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withEdit(d, v, ColumnRemoved{v.text("name")});
         }},
        {"column-name",
         "Rename column {from} of {source}",
         {kSource, {"from", Kind::Text}, {"to", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withEdit(d, v, ColumnNamed{v.text("from"), v.text("to")});
         }},
        {"table-revert",
         "Revert {source} to its file",
         {kSource},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [](SourceRef& s) { s.edits = {}; });
         }},
    };
}

}  // namespace ledge::doc
