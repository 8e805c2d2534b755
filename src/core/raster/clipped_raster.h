#pragma once
#include "core/geometry/geometry.h"
#include "core/raster/raster_source.h"

namespace ledge {

/// The cells of a raster that a box in its CRS touches, themselves unchanged.
/// Errors: InvalidArgument when the box and the raster do not meet.
Result<RasterPtr> clippedTo(RasterPtr source, const Box& box);

/// The cells of a raster whose centres lie inside areas (in its CRS), on the smallest window that
/// holds them; the others have no data. Rings count even-odd, over all areas together, so that
/// holes are left out. Where the raster has no nodata value one is chosen: NaN for floats, else the
/// smallest of its type.
/// Errors: InvalidArgument when areas and raster do not meet, or `areas` hold no polygon.
Result<RasterPtr> clippedTo(RasterPtr source, const std::vector<Geometry>& areas);

}  // namespace ledge
