#pragma once
#include "core/raster/pyramid.h"

namespace ledge {

/// A reduced level of all bands of a raster as a raster of its own: float32, or the cells as they
/// are for a palette. For pictures only.
RasterPtr levelRaster(RasterPtr source, int level);

/// A raster with reduced copies made elsewhere, largest first.
RasterPtr withOverviews(RasterPtr source, std::vector<RasterPtr> overviews);

}  // namespace ledge
