#pragma once
#include <filesystem>
#include <memory>

#include "core/raster/raster_source.h"
#include "io/files/file_set.h"
#include "io/raster_writing.h"

namespace ledge::io {

/// Starts a tiled GeoTIFF. `info` gives size, bands, nodata, palette, placement and CRS; bands of
/// several are appended one after the other (planar) and share the type of the first. The file
/// appears, with its parts, at finish(). Values are rounded and kept within an integer type's
/// range. With overviews, levels of half the size follow down to one tile: the mean of the data
/// cells, or for a palette the upper left cell. Errors: IoFailure, InvalidArgument for a size of
/// zero.
Result<std::unique_ptr<RasterSink>> createGeoTiff(FileSet set, const RasterInfo& info,
                                                  const RasterWriting& writing);

/// Writes all bands of a source.
Result<void> copyToGeoTiff(const RasterSource& source, FileSet& set, const RasterWriting& writing,
                           const Progress& progress);

}  // namespace ledge::io
