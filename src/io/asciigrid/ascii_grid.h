#pragma once
#include <filesystem>
#include <memory>

#include "core/raster/raster_source.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Whether a file's first bytes look like an ASCII grid header.
bool looksLikeAsciiGrid(const std::string& head);

/// Opens an ASCII grid: a header of ncols, nrows, xllcorner or xllcenter, yllcorner or yllcenter,
/// cellsize (or dx and dy), optional nodata_value, then rows from north to south. The CRS comes
/// from a .prj beside it; without one it is undeclared. Cells are parsed at the first read.
Result<RasterPtr> openAsciiGrid(const std::filesystem::path& path);

/// Writes the first band; square cells and north up are needed. Errors: Unsupported, IoFailure.
Result<void> writeAsciiGrid(const RasterSource& source, FileSet& set, const Progress& progress);

}  // namespace ledge::io
