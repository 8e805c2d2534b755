#pragma once
#include <cmath>

#include "core/terrain/slope.h"

/// What the row kernels of slope, aspect and hillshade share. Everything is branch-free, so that
/// the loops vectorise; the kernels are compiled for newer processors too and chosen at run time.
namespace ledge::terrain {

#define LEDGE_ROW_KERNEL [[gnu::target_clones("arch=x86-64-v4", "arch=x86-64-v3", "default")]]

/// Three rows of heights, two columns more than the output, and the weights of their differences.
struct GradientRows {
    const float* north;
    const float* here;
    const float* south;
    float side, middle;  ///< 1-2-1 or 0-1-0
    /// What differences along the columns and up the rows add to the gradient east and north.
    float eastByCol, eastByRow, northByCol, northByRow;

    GradientRows(BlockView<const float> heights, std::size_t row, CellSize cell, double heightScale,
                 GradientMethod method)
        : north(heights.row(row).data()), here(heights.row(row + 1).data()),
          south(heights.row(row + 2).data()) {
        const bool isHorn = method == GradientMethod::Horn;
        side = isHorn ? 1.0F : 0.0F, middle = isHorn ? 2.0F : 1.0F;
        // The inverse of the cell's own matrix, transposed.
        const double factor = heightScale / ((isHorn ? 8 : 2) * cell.area());
        eastByCol = static_cast<float>(factor * cell.yMetres);
        eastByRow = static_cast<float>(-factor * cell.colNorth);
        northByCol = static_cast<float>(factor * cell.rowEast);
        northByRow = static_cast<float>(factor * cell.xMetres);
    }
    /// Gradient at a column; NaN when any of the nine cells is.
    [[gnu::always_inline]] Gradient at(std::size_t c) const {
        // Differences first, so that high plateaus keep their detail in float. Zero multiples carry
        // NaN through.
        const float ne = north[c + 2] - south[c], nw = north[c] - south[c + 2];
        const float missing = (here[c + 1] - here[c + 1]) + (ne - ne) + (nw - nw);
        const float along = side * (ne - nw) + middle * (here[c + 2] - here[c]) + missing;
        const float up = side * (ne + nw) + middle * (north[c + 1] - south[c + 1]) + missing;
        return {eastByCol * along + eastByRow * up, northByCol * along + northByRow * up};
    }
};

/// Arc tangent of 0 <= t <= 1 in radians (Abramowitz and Stegun 1964, 4.4.49; error below 2e-8,
/// in float 1e-7).
[[gnu::always_inline]] inline float arcTangentOfUnit(float t) {
    const float q = t * t;
    return t * (1.0F + q * (-0.3333314528F +
                            q * (0.1999355085F +
                                 q * (-0.1420889944F +
                                      q * (0.1065626393F +
                                           q * (-0.0752896400F +
                                                q * (0.0429096138F + q * (-0.0161657367F +
                                                                          q * 0.0028662257F))))))));
}
/// Of any t >= 0; NaN stays.
[[gnu::always_inline]] inline float arcTangent(float t) {
    constexpr float kRight = 1.57079632679489662F;
    const bool isSteep = t > 1.0F;
    const float angle = arcTangentOfUnit((isSteep ? 1.0F : t) / (isSteep ? t : 1.0F));
    return isSteep ? kRight - angle : angle;
}

inline bool isUsableSize(CellSize cell) { return std::isfinite(cell.area()) && cell.area() != 0; }

}  // namespace ledge::terrain
