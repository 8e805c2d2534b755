#pragma once
#include "core/feature/feature_table.h"
#include "core/geometry/relate.h"

namespace ledge::derive {

/// The rows of a table that stand in a relation to any feature of another, in the same CRS, in its
/// plane; with Disjoint those that do to all of them. Ascending, on all cores. Errors: Cancelled.
Result<std::vector<std::size_t>> rowsRelated(const FeatureTable& table, const FeatureTable& others,
                                             Relation relation, const Progress& progress = {});

/// A table with the columns of the feature of another, in the same CRS, that has the largest share
/// of each: of areas by area, of lines by length, of points the area they lie in. The share in
/// percent stands in `share_percent`; what lies in none has neither. Errors: those of fieldPlace;
/// Cancelled.
Result<FeatureTable> withLargestShare(const FeatureTable& table, const FeatureTable& areas,
                                      const std::vector<std::string>& columns,
                                      std::vector<std::string>& remarks,
                                      const Progress& progress = {});

}  // namespace ledge::derive
