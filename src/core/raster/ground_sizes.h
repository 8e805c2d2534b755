#pragma once
#include <vector>

#include "core/raster/raster_source.h"

namespace ledge {

/// Ground size of the cells of some rows: metres, on the ellipsoid for geographic grids; taken as
/// metres where no CRS says.
std::vector<CellSize> rowCellSizes(const RasterInfo& info, std::int64_t firstRow,
                                   std::int64_t count);

}  // namespace ledge
