#pragma once
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge {

/// A distinct value of a field with how often it occurs.
struct DistinctValue {
    std::string text;  ///< exactText of the value
    std::int64_t count = 0;
};
/// Distinct values in order: numbers by size, text by its bytes; missing ones left out.
/// At most `limit`; the rest is dropped. Stopped work returns what it found so far.
std::vector<DistinctValue> distinctValues(const FeatureTable& table, int field,
                                          std::size_t limit = 200, const Progress& progress = {});

struct NumberSummary {
    std::int64_t count = 0, missing = 0;
    double min = kNaN, max = kNaN, sum = 0;
};
/// Of the finite numbers of a field. Stopped work returns what it found so far.
NumberSummary summarise(const FeatureTable& table, int field, const Progress& progress = {});

}  // namespace ledge
