#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"

/// Headerless grids of one band, row by row from the north-west. Cells are read when asked for.
/// Errors: NotFound, BadFormat when size and header contradict each other, IoFailure.
namespace ledge::io {

/// An elevation tile of one degree (.hgt): big-endian int16 metres, -32768 without data; the name
/// gives the south-west corner (N61W011). Values stand on the degree's edges, so tiles overlap by a
/// row and a column. WGS 84.
Result<RasterPtr> openElevationTile(const std::filesystem::path& path);
/// Whether a file's name and size are those of an elevation tile.
bool looksLikeElevationTile(const std::filesystem::path& path);

/// A binary float grid (.flt) with the text header (.hdr) beside it: ncols, nrows, xllcorner or
/// xllcenter, yllcorner or yllcenter, cellsize, nodata_value, byteorder. CRS of the .prj beside it.
Result<RasterPtr> openFloatGrid(const std::filesystem::path& path);

}  // namespace ledge::io
