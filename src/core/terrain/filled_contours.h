#pragma once
#include "core/geometry/geometry.h"
#include "core/terrain/contours.h"

namespace ledge::terrain {

/// The ground between two levels: low <= height < high; infinite below the first and above the
/// last level.
struct ContourBand {
    double low = 0, high = 0;
    Geometry area;  ///< polygons with their holes
};

/// Filled contours of a height grid whose values stand at cell centres: bands that share their
/// boundaries exactly, cover the lattice of centres with data and nothing else. Bounded by the same
/// lines as contours() and, where data end, by the centres of the last cells.
/// Errors and `toWorld` as for contours().
Result<std::vector<ContourBand>> filledContours(BlockView<const float> heights,
                                                const Affine& toWorld, const ContourLevels& levels,
                                                const Progress& progress = {});

}  // namespace ledge::terrain
