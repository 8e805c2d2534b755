#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"

namespace ledge::io {

/// Whether a GeoPackage holds tiles and no features.
bool holdsOnlyTiles(const std::filesystem::path& path);

/// Opens the first tile pyramid of a GeoPackage (OGC 12-128r18, tiles option): PNG or JPEG tiles as
/// red, green, blue and alpha of 8 bits. The finest zoom level is the raster, the others are its
/// overviews; tiles that are not there are missing, ones that cannot be decoded are told once.
/// Errors: BadFormat.
Result<RasterPtr> openTiles(const std::filesystem::path& path);

}  // namespace ledge::io
