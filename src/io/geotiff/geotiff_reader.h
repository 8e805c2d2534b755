#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"

namespace ledge::io {

/// Opens a TIFF as a raster: 8, 16, 32-bit integers, 32 and 64-bit floats, strips or tiles, one or
/// several bands, any compression libtiff reads. The header is checked against the file's size
/// before anything is allocated by it.
/// Errors: NotFound, BadFormat, Unsupported, LimitExceeded.
Result<RasterPtr> openGeoTiff(const std::filesystem::path& path);

}  // namespace ledge::io
