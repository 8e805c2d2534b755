#pragma once
#include "core/feature/feature_table.h"

namespace ledge::derive {

/// A table with one more column of numbers, one for each row, NaN for none. Its name gets a number
/// behind it where there is such a field already.
FeatureTable withNumbers(const FeatureTable& table, Field field, const std::vector<double>& values);

}  // namespace ledge::derive
