#include "core/feature/summary.h"

#include <map>

namespace ledge {

std::vector<DistinctValue> distinctValues(const FeatureTable& table, int field, std::size_t limit) {
    std::map<Value, std::int64_t> counts;
    if (field < 0) return {};
    for (std::size_t i = 0; i < table.size(); ++i) {
        const Value value = table.value(i, static_cast<std::size_t>(field));
        if (!isMissing(value)) ++counts[value];
    }
    std::vector<DistinctValue> out;
    for (const auto& [value, count] : counts) {
        if (out.size() == limit) break;
        out.push_back({exactText(value), count});
    }
    return out;
}

NumberSummary summarise(const FeatureTable& table, int field) {
    NumberSummary out;
    if (field < 0) return out;
    for (std::size_t i = 0; i < table.size(); ++i) {
        const double v = table.number(i, static_cast<std::size_t>(field));
        if (!std::isfinite(v)) {
            ++out.missing;
            continue;
        }
        ++out.count;
        out.sum += v;
        out.min = std::isnan(out.min) ? v : std::min(out.min, v);
        out.max = std::isnan(out.max) ? v : std::max(out.max, v);
    }
    return out;
}

}  // namespace ledge
