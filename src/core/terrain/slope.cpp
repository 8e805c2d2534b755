#include "core/terrain/slope.h"

#include <cmath>
#include <cstdint>

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
    // In pieces that stay in the nearest cache: where no ground is steeper than 45 degrees, as is
    // usual, a division a cell is saved. Both ways give the same bits.
    constexpr std::size_t kPiece = 512;
    for (std::size_t begin = 0; begin < count; begin += kPiece) {
        const std::size_t end = begin + kPiece < count ? begin + kPiece : count;
        std::int32_t isSteep = 0;
        for (std::size_t c = begin; c < end; ++c) {
            const Gradient g = rows.at(c);
            const float tangent = std::sqrt(g.east * g.east + g.north * g.north);
            out[c] = tangent;
            isSteep |= tangent > 1.0F ? 1 : 0;
        }
        if (isSteep == 0)
            for (std::size_t c = begin; c < end; ++c) out[c] = kDegrees * arcTangentOfUnit(out[c]);
        else
            for (std::size_t c = begin; c < end; ++c) out[c] = kDegrees * arcTangent(out[c]);
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

void continueRim(BlockView<float> cells, Sides ends) {
    const std::size_t rows = cells.rows(), cols = cells.cols();
    const std::size_t firstRow = ends.north ? 1 : 0, lastRow = rows - (ends.south ? 2 : 1);
    const std::size_t firstCol = ends.west ? 1 : 0, lastCol = cols - (ends.east ? 2 : 1);
    const bool hasCols = lastCol > firstCol, hasRows = lastRow > firstRow;
    for (std::size_t r = firstRow; r <= lastRow; ++r) {
        const auto row = cells.row(r);
        if (ends.west) row[0] = hasCols ? beyond(row[1], row[2]) : row[1];
        if (ends.east)
            row[cols - 1] = hasCols ? beyond(row[cols - 2], row[cols - 3]) : row[cols - 2];
    }
    for (std::size_t c = 0; c < cols; ++c) {
        if (ends.north) cells(0, c) = hasRows ? beyond(cells(1, c), cells(2, c)) : cells(1, c);
        if (ends.south)
            cells(rows - 1, c) =
                hasRows ? beyond(cells(rows - 2, c), cells(rows - 3, c)) : cells(rows - 2, c);
    }
}

Grid<float> withHalo(BlockView<const float> heights) {
    const std::size_t rows = heights.rows(), cols = heights.cols();
    Grid<float> out(rows + 2, cols + 2, std::numeric_limits<float>::quiet_NaN());
    for (std::size_t r = 0; r < rows; ++r)
        std::copy(heights.row(r).begin(), heights.row(r).end(), out.row(r + 1).begin() + 1);
    if (rows > 0 && cols > 0) continueRim(out.view(), {true, true, true, true});
    return out;
}

}  // namespace ledge::terrain
