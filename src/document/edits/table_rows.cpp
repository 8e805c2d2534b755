#include <algorithm>
#include <cmath>
#include <sstream>

#include "core/base/numbers.h"
#include "core/geometry/wkt_shape.h"
#include "core/query/tree.h"
#include "document/edits/edit_table.h"
#include "document/edits/field_rename.h"
#include "document/edits/layer_edits.h"
#include "document/json/described_names.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;
const EditArgument kSource{"source", Kind::Source};
const EditArgument kRow{"row", Kind::Number, "key of the feature", true, -9e15, 9e15};
const EditArgument kField{"field", Kind::Text};
const EditArgument kShape{"shape", Kind::Text,
                          "well-known text in the source's CRS; left out: none", false};

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

// A line an edit: what is done, the feature's key, and what it is done with, tabs between.
Result<std::vector<TableEdit>> editsIn(const std::string& text) {
    std::vector<TableEdit> out;
    std::stringstream lines(text);
    const auto refused = [](const std::string& line, const std::string& why) {
        return Error{
            ErrorCode::InvalidArgument, "table-edits edits",
            "\"" + line.substr(0, 80) + "\": " + why,
            "give a line an edit: shape, add, remove or cell, then the key, and a shape or "
            "field and value, with tabs between"};
    };
    for (std::string line; std::getline(lines, line);) {
        if (line.empty()) continue;
        std::vector<std::string> words;
        std::stringstream cells(line);
        while (words.size() < 3 && std::getline(cells, line, '\t')) words.push_back(line);
        std::string rest;
        const bool hasRest = static_cast<bool>(std::getline(cells, rest, '\0'));
        const auto key = words.size() > 1 ? parseNumber(words[1]) : std::nullopt;
        if (!key || *key != std::floor(*key)) return refused(words.front(), "names no feature");
        const auto feature = static_cast<FeatureKey>(*key);
        if (words[0] == "remove") {
            out.emplace_back(RowRemoved{feature});
        } else if (words[0] == "cell" && words.size() > 2) {
            out.emplace_back(
                CellEdit{feature, words[2], hasRest ? std::optional(rest) : std::nullopt});
        } else if (words[0] == "shape" || words[0] == "add") {
            Geometry shape;
            if (words.size() > 2 && !words[2].empty()) {
                auto read = shapeFromWkt(words[2]);
                if (!read || !read->isFinite())
                    return refused(words[2], read ? "is not finite" : read.error().why);
                shape = *std::move(read);
            }
            if (words[0] == "add")
                out.emplace_back(RowAdded{feature, std::move(shape)});
            else
                out.emplace_back(GeometryEdit{feature, std::move(shape)});
        } else {
            return refused(words[0], "is no edit");
        }
    }
    return out;
}

FeatureKey rowOf(const EditValues& v) { return static_cast<FeatureKey>(v.number("row")); }

Result<Geometry> shapeOf(const EditValues& v, const char* edit) {
    if (!v.has("shape") || trimmed(v.text("shape")).empty()) return Geometry();
    auto shape = shapeFromWkt(v.text("shape"));
    if (shape && shape->isFinite()) return shape;
    return Error{ErrorCode::InvalidArgument, std::string(edit) + " shape",
                 shape ? "a coordinate is no finite number" : shape.error().why,
                 "give well-known text in the source's CRS, such as POINT (3 4)"};
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
        {"table-edits",
         "{what} in {source}",
         {kSource,
          {"what", Kind::Text, "for the list of what can be undone"},
          {"edits", Kind::Text,
           "a line an edit, tabs between: shape KEY WKT, add KEY WKT, remove KEY, cell KEY FIELD "
           "VALUE"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto edits = editsIn(v.text("edits"));
             if (!edits) return edits.error();
             return withEdits(d, v, *std::move(edits));
         }},
        {"geometry-set",
         "Shape in {source}",
         {kSource, kRow, kShape},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto shape = shapeOf(v, "geometry-set");
             if (!shape) return shape.error();
             return withEdit(d, v, GeometryEdit{rowOf(v), *std::move(shape)});
         }},
        {"row-add",
         "Add row to {source}",
         {kSource, kRow, kShape},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             auto shape = shapeOf(v, "row-add");
             if (!shape) return shape.error();
             return withEdit(d, v, RowAdded{rowOf(v), *std::move(shape)});
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
             auto next = withEdit(d, v, ColumnNamed{v.text("from"), v.text("to")});
             if (!next) return next;
             return withFieldRenamed(*std::move(next), v.id("source"), v.text("from"),
                                     v.text("to"));
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
        {"table-saved",
         "Edits of {source} saved",
         {kSource},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withSource(d, v.id("source"), [](SourceRef& s) {
                 s.edits = {};
                 s.reading = {};  // what is written says itself how it is read
             });
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
