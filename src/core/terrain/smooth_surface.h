#pragma once
#include "core/geometry/affine.h"
#include "core/raster/block_view.h"

namespace ledge::terrain {

/// Heights on a finer grid whose cells stand `steps` to the old cell, and where it lies.
struct SmoothSurface {
    Grid<float> heights;
    Affine toWorld;
};

/// The surface of a uniform cubic B-spline over a height grid (de Boor, A Practical Guide to
/// Splines, 1978), which smooths noise and stays within the range of the heights around. Contours
/// of it are smooth and, being those of one surface, never cross.
/// No data: fine cells between four centres of which any is missing are missing; missing
/// neighbours further out are left out of the weights.
SmoothSurface smoothSurface(BlockView<const float> heights, const Affine& toWorld,
                            std::size_t steps);

}  // namespace ledge::terrain
