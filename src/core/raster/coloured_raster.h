#pragma once
#include "core/raster/raster_source.h"
#include "core/symbol/ramp.h"

namespace ledge {

/// One band through a ramp as red, green, blue and alpha of 8 bits, computed when it is read.
/// `factor` times which values are taken before the ramp. Missing cells are transparent.
RasterPtr colouredRaster(RasterPtr source, int band, const Ramp& ramp, double factor = 1);

}  // namespace ledge
