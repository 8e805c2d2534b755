#include "core/terrain/cast_shadows.h"

#include <algorithm>
#include <cmath>

#include "core/base/constants.h"
#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
constexpr double kRadians = kRadiansPerDegree;
constexpr double kLongest = 4000;

// Towards the light: cells east and south a step, one of them a whole cell, and metres a step.
struct Step {
    double east = 0, south = 0, metres = 0;
};

Step stepOf(const Light& light, CellSize cell) {
    const double x = std::sin(light.azimuth * kRadians), y = std::cos(light.azimuth * kRadians);
    // A metre towards the light in columns and rows: the inverse of the cell's own matrix.
    const double east = (cell.yMetres * x + cell.rowEast * y) / cell.area();
    const double south = (cell.colNorth * x - cell.xMetres * y) / cell.area();
    const double longest = std::max(std::abs(east), std::abs(south));
    return {east / longest, south / longest, 1 / longest};
}

// Raises what hides each cell of a row by the heights seen at one step along the light.
LEDGE_ROW_KERNEL void raiseRow(const float* one, const float* other, float share, float drop,
                               float* hiding, std::size_t count) {
    for (std::size_t c = 0; c < count; ++c) {
        const float seen = one[c] + share * (other[c] - one[c]) - drop;
        hiding[c] = seen > hiding[c] ? seen : hiding[c];  // NaN hides nothing
    }
}

struct Range {
    float low = std::numeric_limits<float>::infinity();
    float high = -std::numeric_limits<float>::infinity();
    void add(std::span<const float> row) {
        for (const float v : row) {
            low = v < low ? v : low;
            high = v > high ? v : high;
        }
    }
};
}  // namespace

ShadowReach shadowReach(const Light& light, double relief, CellSize cell) {
    const double rise = std::tan(std::clamp(light.altitude, 0.5, 90.0) * kRadians);
    const Step step = stepOf(light, cell);
    const double steps = std::clamp(relief / (rise * step.metres), 1.0, kLongest);
    const auto cells = [steps](double perStep) {
        return perStep <= 0 ? std::int64_t{1}
                            : static_cast<std::int64_t>(std::ceil(steps * perStep)) + 1;
    };
    return {cells(-step.east), cells(step.east), cells(-step.south), cells(step.south)};
}

Result<void> castShadows(BlockView<const float> heights, std::size_t row, std::size_t col,
                         std::span<const CellSize> cells, double heightScale, const Light& light,
                         BlockView<float> out, const std::stop_token& stop) {
    if (cells.size() != out.rows() || !std::all_of(cells.begin(), cells.end(), isUsableSize) ||
        !std::isfinite(light.azimuth) || !(light.altitude >= 0 && light.altitude <= 90) ||
        !(heightScale > 0))
        return Error{ErrorCode::InvalidArgument, "cast shadows",
                     "cell size, height scale and the light's altitude must be usable", ""};
    Range all;
    for (std::size_t r = 0; r < heights.rows(); ++r) all.add(heights.row(r));
    const auto rows = static_cast<std::ptrdiff_t>(heights.rows());
    const auto cols = static_cast<std::ptrdiff_t>(heights.cols());
    std::vector<float> hiding(out.cols());
    for (std::size_t r = 0; r < out.rows(); ++r) {
        if (stop.stop_requested()) return cancelled("cast shadows");
        const Step step = stepOf(light, cells[r]);
        const auto rise =
            static_cast<float>(step.metres * std::tan(light.altitude * kRadians) / heightScale);
        const auto here = heights.row(row + r).subspan(col, out.cols());
        Range own;
        own.add(here);
        std::fill(hiding.begin(), hiding.end(), -std::numeric_limits<float>::infinity());
        for (int i = 1; i <= static_cast<int>(kLongest); ++i) {
            const float drop = rise * static_cast<float>(i);
            if (!(own.low + drop < all.high)) break;
            const double south = static_cast<double>(row + r) + i * step.south;
            const double east = static_cast<double>(col) + i * step.east;
            const auto r0 = static_cast<std::ptrdiff_t>(std::floor(south));
            const auto c0 = static_cast<std::ptrdiff_t>(std::floor(east));
            const auto down = static_cast<float>(south - std::floor(south));
            const auto right = static_cast<float>(east - std::floor(east));
            const std::ptrdiff_t r1 = down > 0 ? r0 + 1 : r0, shift = right > 0 ? 1 : 0;
            if (r0 < 0 || r1 >= rows) break;
            const std::ptrdiff_t begin = std::max<std::ptrdiff_t>(0, -c0);
            const std::ptrdiff_t end =
                std::min(static_cast<std::ptrdiff_t>(out.cols()), cols - shift - c0);
            if (begin >= end) break;
            const float* const upper = heights.row(static_cast<std::size_t>(r0)).data() + c0;
            // On a grid line either the row or the column is whole.
            const float* const other =
                down > 0 ? heights.row(static_cast<std::size_t>(r1)).data() + c0 : upper + shift;
            raiseRow(upper + begin, other + begin, down > 0 ? down : right, drop,
                     hiding.data() + begin, static_cast<std::size_t>(end - begin));
        }
        const auto lit = out.row(r);
        const float slack = 1e-4F * std::max(1.0F, rise);
        for (std::size_t c = 0; c < lit.size(); ++c)
            lit[c] = hiding[c] > here[c] + slack ? 0.0F : 1.0F;
    }
    return {};
}

}  // namespace ledge::terrain
