#pragma once
#include <vector>

#include "core/feature/feature.h"

namespace ledge {

/// The shapes of a table with fewer corners, for looking from afar.
struct CoarseShapes {
    double within = 0;  ///< corners left out lie this near to one that is kept; units of the CRS
    TablePtr table;     ///< rows as in the table they are of, columns shared
};

/// Coarser copies of the shapes of a table, the finest first; none where there is little to gain:
/// few corners a shape, or few in all. Corners are left out that lie within a distance of the last
/// one kept; ends stay, rings stay closed. Cost: one pass over the points for each, on all cores;
/// a copy is kept where it has at most half of the corners of the finer one.
/// Errors: Cancelled.
Result<std::vector<CoarseShapes>> coarseShapes(const FeatureTable& table,
                                               const Progress& progress = {});

}  // namespace ledge
