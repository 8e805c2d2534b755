#include "core/terrain/aspect.h"

#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
LEDGE_ROW_KERNEL void aspectRow(GradientRows rows, float* out, std::size_t count) {
    constexpr float kDegrees = 57.29577951308232F;
    for (std::size_t c = 0; c < count; ++c) {
        const Gradient g = rows.at(c);
        // Downhill: against the gradient. The angle from the nearer axis, then its octant.
        const float east = -g.east, north = -g.north;
        const float across = std::abs(east), along = std::abs(north);
        const float small = across < along ? across : along;
        const float large = across < along ? along : across;
        const float angle =
            kDegrees * arcTangentOfUnit(small / large);  // NaN on flat ground: 0 / 0
        const float quadrant = across > along ? 90.0F - angle : angle;
        const float side = north < 0 ? 180.0F - quadrant : quadrant;
        const float turned = east < 0 ? 360.0F - side : side;
        out[c] = turned >= 360.0F ? 0.0F : turned;
    }
}
}  // namespace

Result<void> aspect(BlockView<const float> heights, std::span<const CellSize> cells,
                    double heightScale, GradientMethod method, BlockView<float> out,
                    const std::stop_token& stop) {
    if (heights.rows() != out.rows() + 2 || heights.cols() != out.cols() + 2 ||
        cells.size() != out.rows())
        return Error{ErrorCode::InvalidArgument, "aspect",
                     "heights need a one-cell halo and one cell size a row", ""};
    for (std::size_t r = 0; r < out.rows(); ++r) {
        if (stop.stop_requested()) return cancelled("aspect");
        if (!isUsableSize(cells[r]))
            return Error{ErrorCode::InvalidArgument, "aspect", "cell size must be positive", ""};
        aspectRow(GradientRows(heights, r, cells[r], heightScale, method), out.row(r).data(),
                  out.cols());
    }
    return {};
}

}  // namespace ledge::terrain
