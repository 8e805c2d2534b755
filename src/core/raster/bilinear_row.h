#pragma once
#include <cstddef>

namespace ledge {

/// Where a row of target cells lies in a block: position of the first in cells from the centre of
/// the block's first cell, and the step from one to the next.
struct RowWalk {
    double x = 0, y = 0, stepX = 0, stepY = 0;
};

/// Bilinear values along a row whose positions all have four neighbours in the block (0 <= x < cols
/// - 1, 0 <= y < rows - 1). NaN where a neighbour is. Branch-free, so that it vectorises; compiled
/// for newer processors too and chosen at run time.
void bilinearRow(const float* block, std::ptrdiff_t stride, RowWalk walk, float* out,
                 std::size_t count);
void bilinearRow(const double* block, std::ptrdiff_t stride, RowWalk walk, double* out,
                 std::size_t count);

}  // namespace ledge
