#include "document/layer_formulas.h"

#include <algorithm>

#include "core/query/node.h"
#include "core/query/row_values.h"

namespace ledge::doc {

std::vector<LayerFormula> formulasOf(const VectorLayer& layer) {
    std::vector<LayerFormula> out;
    const auto add = [&out](const char* owner, const std::string& said) {
        if (!said.empty()) out.push_back({owner, said});
    };
    const VectorStyle& style = layer.style;
    constexpr const char* kStyle = "its style";
    switch (style.classing) {
    case Classing::Single: break;
    case Classing::Categories: add(kStyle, style.field); break;
    case Classing::Ramp:
    case Classing::Classes:
    case Classing::Sized:
        add(kStyle, style.field);
        add(kStyle, style.per);
        break;
    case Classing::Dots:
        for (const DotField& one : style.dots.fields) add(kStyle, one.field);
        break;
    case Classing::Rules:
        for (const StyleRule& rule : style.rules) add(kStyle, rule.keep);
        break;
    }
    add(kStyle, style.turnBy);
    for (const LabelStyle& labels : layer.labels)
        if (labels.isOn)
            for (const std::string& said : {labels.text, labels.keep, labels.rank})
                add("its labels", said);
    return out;
}

std::string troubleOf(const VectorLayer& layer, const LayerInfo& info) {
    // Over no rows everything is bound and nothing computed.
    const FeatureTable none{FeatureList{info, {}}};
    for (const LayerFormula& one : formulasOf(layer))
        if (const auto read = query::RowValues::of(one.said, none); !read)
            return one.owner + ": " + read.error().why;
    return {};
}

Result<std::vector<std::string>> rowTroubles(const VectorLayer& layer, const FeatureTable& table,
                                             const Progress& progress) {
    std::vector<std::string> out;
    for (const LayerFormula& one : formulasOf(layer)) {
        if (table.fieldIndex(one.said) >= 0) continue;  // a field is what it is
        auto values = query::RowValues::of(one.said, table, progress);
        if (!values && values.error().code == ErrorCode::Cancelled) return values.error();
        if (!values) continue;
        for (std::size_t row = 0; row < table.size(); row += query::kBatch) {
            if (progress.stopped()) return cancelled("counting the rows without a value");
            values->value(row);  // answers its whole batch
        }
        const std::string trouble = values->trouble();
        if (trouble.empty()) continue;
        std::string said = one.owner + " (" + one.said + "): " + trouble;
        if (std::find(out.begin(), out.end(), said) == out.end()) out.push_back(std::move(said));
    }
    return out;
}

}  // namespace ledge::doc
