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
    float fx, fy;        ///< one over the ground covered, times the height scale

    GradientRows(BlockView<const float> heights, std::size_t row, CellSize cell,
                 double heightScale, GradientMethod method)
        : north(heights.row(row).data()), here(heights.row(row + 1).data()),
          south(heights.row(row + 2).data()) {
        const bool isHorn = method == GradientMethod::Horn;
        side = isHorn ? 1.0F : 0.0F, middle = isHorn ? 2.0F : 1.0F;
        const double total = isHorn ? 8 : 2;
        fx = static_cast<float>(heightScale / (total * cell.xMetres));
        fy = static_cast<float>(heightScale / (total * cell.yMetres));
    }
    /// Gradient at a column; NaN when any of the nine cells is.
    [[gnu::always_inline]] Gradient at(std::size_t c) const {
        // Differences first, so that high plateaus keep their detail in float. Zero multiples carry
        // NaN through.
        const float ne = north[c + 2] - south[c], nw = north[c] - south[c + 2];
        const float missing = (here[c + 1] - here[c + 1]) + (ne - ne) + (nw - nw);
        return {fx * (side * (ne - nw) + middle * (here[c + 2] - here[c])) + missing,
                fy * (side * (ne + nw) + middle * (north[c + 1] - south[c + 1])) + missing};
    }
};

/// Arc tangent of a quarter of an angle's tangent range: for t = tan(angle) >= 0 the angle in
/// radians, by halving it twice and an odd polynomial of the 13th degree. Error below 1e-6.
[[gnu::always_inline]] inline float arcTangent(float t) {
    const float half = t / (1.0F + std::sqrt(1.0F + t * t));
    const float u = half / (1.0F + std::sqrt(1.0F + half * half)), q = u * u;
    const float p =
        1.0F + q * (-1.0F / 3 + q * (1.0F / 5 + q * (-1.0F / 7 + q * (1.0F / 9 +
               q * (-1.0F / 11 + q * (1.0F / 13))))));
    return 4.0F * u * p;
}

inline bool isUsableSize(CellSize cell) {
    return std::isfinite(cell.xMetres) && cell.xMetres > 0 && std::isfinite(cell.yMetres) &&
           cell.yMetres > 0;
}

}  // namespace ledge::terrain
