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

std::string_view nameOf(GradientMethod method) {
    return method == GradientMethod::Horn ? "horn" : "zevenbergen-thorne";
}

std::optional<GradientMethod> gradientMethodOf(std::string_view name) {
    for (const auto method : {GradientMethod::Horn, GradientMethod::ZevenbergenThorne})
        if (name == nameOf(method)) return method;
    return {};
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
        slopeRow(GradientRows(heights, r, cells[r], heightScale, method),
                 unit == SlopeUnit::Percent, out.row(r).data(), out.cols());
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
