#pragma once
#include <algorithm>
#include <cstdint>

#include "core/terrain/hillshade.h"

namespace ledge::terrain {

/// How far the longest shadow may come from over heights within a range: cells to each side of the
/// grid, at most 4000 in any.
struct ShadowReach {
    std::int64_t west = 0, east = 0, up = 0, down = 0;
    std::int64_t longest() const { return std::max(std::max(west, east), std::max(up, down)); }
};
/// `relief` in metres.
ShadowReach shadowReach(const Light& light, double relief, CellSize cell);

/// Which cells a light reaches, over the terrain between: 1 where it does, 0 in cast shadow.
///
/// Shapes:  `heights` holds `out` from (`row`, `col`) on, and as much around it as shadows may come
///          from (shadowReach() towards the light); what lies beyond casts none.
/// Method:  each cell looks along the light from grid line to grid line, heights interpolated on
///          them; exact for surfaces linear between neighbouring cells, so edges of shadows are
///          right to a cell.
/// No data: casts no shadow, and is lit.
/// Errors:  InvalidArgument for cell sizes or altitudes not usable; Cancelled.
Result<void> castShadows(BlockView<const float> heights, std::size_t row, std::size_t col,
                         std::span<const CellSize> cells, double heightScale, const Light& light,
                         BlockView<float> out, const std::stop_token& stop = {});

}  // namespace ledge::terrain
