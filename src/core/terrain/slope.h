#pragma once
#include <optional>
#include <span>
#include <string_view>

#include "core/base/progress.h"
#include "core/raster/block_view.h"

namespace ledge::terrain {

/// How a cell's gradient comes from its eight neighbours: third-order differences with 1-2-1
/// weights (Horn, Proc. IEEE 69(1), 1981), smooth on noisy heights; or second-order differences
/// along row and column (Zevenbergen and Thorne, Earth Surf. Proc. Landf. 12, 1987), sharp on
/// smooth ones.
enum class GradientMethod : std::uint8_t { Horn, ZevenbergenThorne };

/// As commands and projects write it: "horn" or "zevenbergen-thorne".
std::string_view nameOf(GradientMethod method);
/// Nothing for other names.
std::optional<GradientMethod> gradientMethodOf(std::string_view name);

/// Rise per metre towards east (x) and north (y).
struct Gradient {
    float east = 0, north = 0;
};

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
/// Where a block ends because its raster does.
struct Sides {
    bool north = false, south = false, west = false, east = false;
};
/// Fills the outermost rows and columns of a block that way on the sides where the raster ends;
/// what lies between is given.
void continueRim(BlockView<float> cells, Sides ends);

}  // namespace ledge::terrain
