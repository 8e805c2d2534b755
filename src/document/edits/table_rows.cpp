#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/base/numbers.h"
#include "core/query/tree.h"
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

// Many at once; what was done last already is not done again.
Result<Document> withEdits(const Document& d, const EditValues& v, std::vector<TableEdit> edits) {
    const SourceRef& source = *d.source(v.id("source"));
    if (!source.isFile())
        return Error{ErrorCode::InvalidArgument, "edit of a table", source.name + " is no file",
                     "name a source with a table of its own"};
    return withSource(d, source.id, [&](SourceRef& s) {
        const auto& done = s.edits->edits;
        if (done.size() >= edits.size() && std::equal(edits.rbegin(), edits.rend(), done.rbegin()))
            return;
        EditLog log = *s.edits;
        log.edits.insert(log.edits.end(), edits.begin(), edits.end());
        s.edits = Shared<EditLog>(std::move(log));
    });
}
Result<Document> withEdit(const Document& d, const EditValues& v, TableEdit edit) {
    const SourceRef& source = *d.source(v.id("source"));
    if (!source.isFile()) return withEdits(d, v, {});
    return withSource(d, source.id, [&](SourceRef& s) {
        s.edits = Shared<EditLog>(s.edits->with(std::move(edit)));
    });
}

// A line a cell, tabs between its feature's key, its field and its value.
Result<std::vector<TableEdit>> cellsIn(const std::string& text) {
    std::vector<TableEdit> out;
    std::stringstream lines(text);
    for (std::string line; std::getline(lines, line);) {
        if (line.empty()) continue;
        const auto first = line.find('\t');
        const auto second = first == std::string::npos ? first : line.find('\t', first + 1);
        const auto key = parseNumber(line.substr(0, first));
        if (first == std::string::npos || !key || *key != std::floor(*key))
            return Error{ErrorCode::InvalidArgument, "cells-set cells",
                         "\"" + line + "\" names no cell",
                         "give a line a cell: key, field and value with tabs between"};
        CellEdit cell{
            static_cast<FeatureKey>(*key),
            line.substr(first + 1, second == std::string::npos ? second : second - first - 1),
            {}};
        if (second != std::string::npos) cell.value = line.substr(second + 1);
        out.emplace_back(std::move(cell));
    }
    return out;
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
        {"cells-set",
         "Cells in {source}",
         {kSource,
          {"cells", Kind::Text,
           "a line a cell: key, field and value with tabs between; without the last: missing"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto cells = cellsIn(v.text("cells"));
             if (!cells) return cells.error();
             return withEdits(d, v, *std::move(cells));
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
        {"rows-remove",
         "Remove rows of {source}",
         {kSource, {"rows", Kind::Numbers, "keys of the features"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             std::vector<TableEdit> edits;
             for (const double key : v.numbers("rows"))
                 edits.emplace_back(RowRemoved{static_cast<FeatureKey>(key)});
             return withEdits(d, v, std::move(edits));
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
        {"column-compute",
         "Compute {name} in {source}",
         {kSource,
          {"name", Kind::Text, "of the column; made when it is not there"},
          {"formula", Kind::Text},
          {"rows", Kind::Numbers, "keys of the features to fill; left out: all", false},
          {"live", Kind::Yes, "follows the fields it reads", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             ColumnComputed column{v.text("name"), v.text("formula"), {}, false};
             if (const auto tree = query::parse(column.formula); !tree) return tree.error();
             if (v.has("live")) column.isLive = v.isOn("live");
             if (v.has("rows"))
                 for (const double key : v.numbers("rows"))
                     column.rows.push_back(static_cast<FeatureKey>(key));
             if (column.isLive && !column.rows.empty())
                 return Error{ErrorCode::InvalidArgument, "column-compute live",
                              "a column that follows its fields is filled in every row",
                              "leave out rows, or live"};
             return withEdit(d, v, std::move(column));
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
