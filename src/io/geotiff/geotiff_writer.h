#pragma once
#include <filesystem>
#include <memory>

#include "core/raster/raster_source.h"

namespace ledge::io {

enum class Compression : std::uint8_t { None, Lzw, Deflate, Zstd };

/// Starts a tiled GeoTIFF of one band. `info` gives size, type, nodata, placement and CRS. The file
/// appears at finish(). Values are rounded and kept within an integer type's range.
/// Errors: IoFailure, InvalidArgument for a size of zero.
Result<std::unique_ptr<RasterSink>> createGeoTiff(const std::filesystem::path& path,
                                                  const RasterInfo& info, Compression compression);

/// Writes several bands of a source, one band after the other (planar).
Result<void> copyToGeoTiff(const RasterSource& source, const std::filesystem::path& path,
                           Compression compression, const Progress& progress);

}  // namespace ledge::io
