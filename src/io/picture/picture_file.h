#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// A PNG or JPEG as a raster: placed by the world file beside it, in the CRS of its .prj.
/// Errors: those of decodePicture.
Result<RasterPtr> openPicture(const std::filesystem::path& path);

/// Writes a raster of one, three or four bands of whole numbers as PNG (8 or 16 bits, nodata
/// transparent) or, of one or three bands of 8 bits, as JPEG (nodata black), with a world file and,
/// when it has a CRS, a .prj beside it.
/// Errors: Unsupported for other bands; IoFailure; Cancelled.
Result<void> writePicture(const RasterSource& source, FileSet& set, const Progress& progress);

}  // namespace ledge::io
