#include "core/raster/ground_sizes.h"

#include <algorithm>

#include "core/crs/transformation.h"

namespace ledge {

std::vector<CellSize> rowCellSizes(const RasterInfo& info, std::int64_t firstRow,
                                   std::int64_t count) {
    const double dx = info.toWorld.columnLength(), dy = info.toWorld.rowLength();
    std::vector<CellSize> sizes;
    for (std::int64_t r = firstRow; r < firstRow + count; ++r) {
        Point metres{1, 1};
        if (info.crs && info.crs->isGeographic()) {
            const Point middle =
                info.toWorld({static_cast<double>(info.width) / 2, static_cast<double>(r) + 0.5});
            metres = crs::metresPerDegree(info.crs->ellipsoid, middle.y);
            metres.x = std::max(metres.x, 1e-6);  // at a pole
        } else if (info.crs) {
            metres = {info.crs->unit.size, info.crs->unit.size};
        }
        sizes.push_back({dx * metres.x, dy * metres.y});
    }
    return sizes;
}

}  // namespace ledge
