#pragma once
#include <array>

namespace ledge {

/// Weights of four neighbours at `t` of the way from the second to the third: the Catmull-Rom
/// spline (1974), which interpolates and keeps straight slopes straight.
inline std::array<double, 4> cubicWeights(double t) {
    return {((-0.5 * t + 1) * t - 0.5) * t, (1.5 * t - 2.5) * t * t + 1,
            ((-1.5 * t + 2) * t + 0.5) * t, (0.5 * t - 0.5) * t * t};
}

/// Of positions that are interpolated between exact ones, source cells.
inline constexpr double kCellTolerance = 0.05;

}  // namespace ledge
