#include "core/terrain/slope.h"

#include <cmath>

#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
LEDGE_ROW_KERNEL void slopeRow(GradientRows rows, bool isPercent, float* out, std::size_t count) {
    constexpr float kDegrees = 57.29577951308232F;
    if (isPercent) {
        for (std::size_t c = 0; c < count; ++c) {
            const Gradient g = rows.at(c);
            out[c] = 100.0F * std::sqrt(g.east * g.east + g.north * g.north);
        }
        return;
    }
    for (std::size_t c = 0; c < count; ++c) {
        const Gradient g = rows.at(c);
        out[c] = kDegrees * arcTangent(std::sqrt(g.east * g.east + g.north * g.north));
    }
}

// Continues a + (a - b); where b is missing, the value itself.
float beyond(float edge, float inner) { return std::isnan(inner) ? edge : edge + (edge - inner); }
}  // namespace

void gradientRow(std::span<const float> north, std::span<const float> here,
                 std::span<const float> south, CellSize cell, double heightScale,
                 GradientMethod method, std::span<float> east, std::span<float> northward) {
    const std::size_t count = east.size();
    const bool isHorn = method == GradientMethod::Horn;
    // Horn's weights are 1-2-1, the other method's 0-1-0.
    const float side = isHorn ? 1.0F : 0.0F, middle = isHorn ? 2.0F : 1.0F;
    const double total = isHorn ? 8 : 2;
    const auto fx = static_cast<float>(heightScale / (total * cell.xMetres));
    const auto fy = static_cast<float>(heightScale / (total * cell.yMetres));
    const float *n = north.data(), *h = here.data(), *s = south.data();
    for (std::size_t c = 0; c < count; ++c) {
        // Differences first, so that high plateaus keep their detail in float. The centre's zero
        // multiple carries its NaN through.
        const float ne = n[c + 2] - s[c], nw = n[c] - s[c + 2];
        const float missing = (h[c + 1] - h[c + 1]) + (ne - ne) + (nw - nw);
        east[c] = fx * (side * (ne - nw) + middle * (h[c + 2] - h[c])) + missing;
        northward[c] = fy * (side * (ne + nw) + middle * (n[c + 1] - s[c + 1])) + missing;
    }
}

Result<void> slope(BlockView<const float> heights, std::span<const CellSize> cells,
                   double heightScale, GradientMethod method, SlopeUnit unit, BlockView<float> out,
                   const std::stop_token& stop) {
    if (heights.rows() != out.rows() + 2 || heights.cols() != out.cols() + 2)
        return Error{ErrorCode::InvalidArgument, "slope", "heights need a one-cell halo", ""};
    if (cells.size() != out.rows())
        return Error{ErrorCode::InvalidArgument, "slope", "one cell size a row is needed", ""};
    for (std::size_t r = 0; r < out.rows(); ++r) {
        if (stop.stop_requested()) return cancelled("slope");
        if (!isUsableSize(cells[r]))
            return Error{ErrorCode::InvalidArgument, "slope", "cell size must be positive", ""};
        slopeRow(GradientRows(heights, r, cells[r], heightScale, method), unit == SlopeUnit::Percent,
                 out.row(r).data(), out.cols());
    }
    return {};
}

Grid<float> withHalo(BlockView<const float> heights) {
    const std::size_t rows = heights.rows(), cols = heights.cols();
    Grid<float> out(rows + 2, cols + 2, std::numeric_limits<float>::quiet_NaN());
    for (std::size_t r = 0; r < rows; ++r) {
        const auto from = heights.row(r);
        const auto to = out.row(r + 1);
        std::copy(from.begin(), from.end(), to.begin() + 1);
        to[0] = cols > 1 ? beyond(from[0], from[1]) : from[0];
        to[cols + 1] = cols > 1 ? beyond(from[cols - 1], from[cols - 2]) : from[cols - 1];
    }
    for (std::size_t c = 0; c < cols + 2 && rows > 0; ++c) {
        out(0, c) = rows > 1 ? beyond(out(1, c), out(2, c)) : out(1, c);
        out(rows + 1, c) = rows > 1 ? beyond(out(rows, c), out(rows - 1, c)) : out(rows, c);
    }
    return out;
}

}  // namespace ledge::terrain
