#include <algorithm>

#include "core/base/csv_line.h"
#include "core/base/numbers.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/json/described_names.h"

namespace ledge::doc {
namespace {
using Kind = EditArgument::Kind;

Result<Document> withVector(const Document& d, const EditValues& v,
                            const std::function<void(VectorLayer&)>& change) {
    const Layer& layer = *d.layer(v.id("layer"));
    if (!layer.as<VectorLayer>())
        return Error{ErrorCode::InvalidArgument, layer.name, "is no vector layer",
                     "name a layer of features"};
    return withLayer(d, layer.id, [&](Layer& l) { change(*l.as<VectorLayer>()); });
}

ColumnLook& lookOf(VectorLayer& layer, const std::string& field) {
    for (ColumnLook& look : layer.columns)
        if (look.field == field) return look;
    layer.columns.emplace_back().field = field;
    return layer.columns.back();
}

SavedQuestion asked(const EditValues& v) {
    SavedQuestion out;
    out.name = v.text("name");
    out.layer = v.id("layer");
    if (v.has("keep")) out.keep = v.text("keep");
    if (v.has("near")) out.near = v.id("near");
    if (v.has("relation")) out.relation = v.text("relation");
    if (v.has("near-keep")) out.nearKeep = v.text("near-keep");
    if (v.has("within-metres")) out.withinMetres = v.number("within-metres");
    return out;
}
}  // namespace

std::vector<NamedEdit> questionEditRows() {
    return {
        {"layer-filter",
         "Filter of {layer}",
         {{"layer", Kind::Layer},
          {"keep", Kind::Text, "a condition in CQL2; left out: all features", false}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withVector(d, v, [&](VectorLayer& layer) {
                 layer.filter = v.has("keep") ? trimmed(v.text("keep")) : std::string();
             });
         }},
        {"column-look",
         "Column {field} of {layer}",
         {{"layer", Kind::Layer},
          {"field", Kind::Text},
          {"hidden", Kind::Yes, "", false},
          {"frozen", Kind::Yes, "", false},
          {"percent", Kind::Yes, "shares of one shown as percent", false},
          {"unit", Kind::Text, "written behind numbers", false},
          {"decimals", Kind::Number, "-1: as many as needed", false, -1, 15},
          {"thousands", Kind::Yes, "", false},
          {"dates",
           Kind::Choice,
           "",
           false,
           0,
           0,
           {kNames<DateForm>.begin(), kNames<DateForm>.end()}}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withVector(d, v, [&](VectorLayer& layer) {
                 ColumnLook& look = lookOf(layer, v.text("field"));
                 if (v.has("hidden")) look.isHidden = v.isOn("hidden");
                 if (v.has("frozen")) look.isFrozen = v.isOn("frozen");
                 if (v.has("percent")) look.isPercent = v.isOn("percent");
                 if (v.has("unit")) look.unit = v.text("unit");
                 if (v.has("decimals"))
                     look.numbers.decimals = static_cast<int>(v.number("decimals"));
                 if (v.has("dates")) look.dates = named<DateForm>(v.text("dates"));
                 if (v.has("thousands")) look.numbers.groupsThousands = v.isOn("thousands");
             });
         }},
        {"columns-order",
         "Order of columns of {layer}",
         {{"layer", Kind::Layer}, {"fields", Kind::Text, "names in order, separated by commas"}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             return withVector(d, v, [&](VectorLayer& layer) {
                 std::vector<ColumnLook> ordered;
                 for (const std::string& cell : csvCells(v.text("fields"), CsvQuotes::Drop)) {
                     const std::string field = trimmed(cell);
                     if (std::none_of(ordered.begin(), ordered.end(),
                                      [&](const ColumnLook& look) { return look.field == field; }))
                         ordered.push_back(lookOf(layer, field)), ordered.back().isPlaced = true;
                     std::erase_if(layer.columns,
                                   [&](const ColumnLook& look) { return look.field == field; });
                 }
                 ordered.insert(ordered.end(), layer.columns.begin(), layer.columns.end());
                 layer.columns = std::move(ordered);
             });
         }},
        {"question-keep",
         "Keep question {name}",
         {{"name", Kind::Text},
          {"layer", Kind::Layer},
          {"keep", Kind::Text, "a condition in CQL2", false},
          {"near", Kind::Layer, "whose features must be near", false},
          {"relation", Kind::Text, "in place of nearness, such as S_WITHIN", false},
          {"near-keep", Kind::Text, "which of them, in CQL2", false},
          {"within-metres", Kind::Number, "metres on the ellipsoid", false, 0, 1e8}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document out = d;
             SavedQuestion question = asked(v);
             for (SavedQuestion& known : out.questions) {
                 if (known.name != question.name) continue;
                 question.id = known.id;
                 known = question;
                 return out;
             }
             question.id = out.nextId++;
             out.questions.push_back(question);
             return out;
         }},
        {"question-name",
         "Rename question {question}",
         {{"question", Kind::Question}, {"name", Kind::Text}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document out = d;
             for (SavedQuestion& q : out.questions)
                 if (q.id == v.id("question")) q.name = v.text("name");
             return out;
         }},
        {"question-remove",
         "Remove question {question}",
         {{"question", Kind::Question, "", true, 0, 0, {}, true}},
         [](const Document& d, const EditValues& v) -> Result<Document> {
             Document out = d;
             std::erase_if(out.questions,
                           [&](const SavedQuestion& q) { return q.id == v.id("question"); });
             return out;
         }},
    };
}

}  // namespace ledge::doc
