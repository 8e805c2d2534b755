#include "core/feature/summary.h"

#include <map>

namespace ledge {
namespace {

// Calls f(row) for every row until stopped, telling how far it is.
template <typename F>
void eachRow(const FeatureTable& table, const Progress& progress, const F& f) {
    constexpr std::size_t kBatch = 8192;
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % kBatch == 0) {
            if (progress.stopped()) return;
            progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        }
        f(i);
    }
}

}  // namespace

std::vector<DistinctValue> distinctValues(const FeatureTable& table, int field, std::size_t limit,
                                          const Progress& progress) {
    std::map<Value, std::int64_t> counts;
    if (field < 0) return {};
    eachRow(table, progress, [&](std::size_t i) {
        const Value value = table.value(i, static_cast<std::size_t>(field));
        if (!isMissing(value)) ++counts[value];
    });
    std::vector<DistinctValue> out;
    for (const auto& [value, count] : counts) {
        if (out.size() == limit) break;
        out.push_back({exactText(value), count});
    }
    return out;
}

NumberSummary summarise(const FeatureTable& table, int field, const Progress& progress) {
    NumberSummary out;
    if (field < 0) return out;
    eachRow(table, progress, [&](std::size_t i) {
        const double v = table.number(i, static_cast<std::size_t>(field));
        if (!std::isfinite(v)) {
            ++out.missing;
            return;
        }
        ++out.count;
        out.sum += v;
        out.min = std::isnan(out.min) ? v : std::min(out.min, v);
        out.max = std::isnan(out.max) ? v : std::max(out.max, v);
    });
    return out;
}

}  // namespace ledge
