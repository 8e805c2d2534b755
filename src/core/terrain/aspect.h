#pragma once
#include "core/terrain/slope.h"

namespace ledge::terrain {

/// Aspect of a height block: the direction the ground falls towards, degrees clockwise from north
/// within [0, 360).
///
/// Shapes, units, errors: as for slope().
/// No data: NaN, spread to every cell that reads it; flat ground has no aspect and is NaN too.
/// Error:   below 1e-4 degree of the arc tangent of the same gradient.
Result<void> aspect(BlockView<const float> heights, std::span<const CellSize> cells,
                    double heightScale, GradientMethod method, BlockView<float> out,
                    const std::stop_token& stop = {});

}  // namespace ledge::terrain
