#pragma once
#include <span>

#include "core/base/progress.h"
#include "core/raster/block_view.h"

namespace ledge::terrain {

enum class GradientMethod : std::uint8_t { Horn, ZevenbergenThorne };

/// Rise per metre towards east (x) and north (y).
struct Gradient {
    float east = 0, north = 0;
};

/// Gradients of one row of cells from the rows around it.
///
/// Shapes:  the three height rows have two columns more than `out`, one on either side.
/// Units:   heights times `heightScale` in metres, cell in metres.
/// No data: NaN in any of the nine cells makes the result NaN.
/// Method:  third-order differences with 1-2-1 weights (Horn, Proc. IEEE 69(1), 1981), or
///          second-order differences (Zevenbergen and Thorne, Earth Surf. Proc. Landf. 12, 1987).
void gradientRow(std::span<const float> north, std::span<const float> here,
                 std::span<const float> south, CellSize cell, double heightScale,
                 GradientMethod method, std::span<float> east, std::span<float> northward);

enum class SlopeUnit : std::uint8_t { Degrees, Percent };

/// Slope of a height block.
///
/// Shapes:  `heights` is (rows + 2) x (cols + 2), the tile with a one-cell halo; `out` is
///          rows x cols. `cells` gives the cell size of each output row, so geographic grids
///          shorten to the north.
/// Units:   degrees from horizontal within [0, 90], or percent.
/// No data: NaN, spread to every cell that reads it.
/// Errors:  InvalidArgument for wrong shapes or cell sizes; Cancelled.
Result<void> slope(BlockView<const float> heights, std::span<const CellSize> cells,
                   double heightScale, GradientMethod method, SlopeUnit unit, BlockView<float> out,
                   const std::stop_token& stop = {});

/// Copies a block with a one-cell halo; beyond the edge the heights go on linearly, so that edge
/// cells get a one-sided gradient instead of nodata.
Grid<float> withHalo(BlockView<const float> heights);

}  // namespace ledge::terrain
