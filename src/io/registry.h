#pragma once
#include <filesystem>
#include <variant>

#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "core/raster/raster_source.h"
#include "io/raster_writing.h"

namespace ledge::io {

using Source = std::variant<RasterPtr, FeatureSourcePtr>;

/// Opens a file by its content; what cannot be read in parts is read whole, and can be stopped.
/// Errors: NotFound, BadFormat, Unsupported, LimitExceeded, IoFailure, Cancelled.
Result<Source> openSource(const std::filesystem::path& path, const Progress& progress = {});

/// Whether a suffix names a vector or raster format that can be written.
bool writesVector(const std::filesystem::path& path);
bool writesRaster(const std::filesystem::path& path);

/// Writes a table in the format of the suffix: .gpkg, .geojson, .json, .shp.
Result<void> writeTable(const FeatureTable& table, const std::filesystem::path& path,
                        const Progress& progress);
/// Writes a raster in the format of the suffix: .tif, .tiff, .asc; .png and .jpg with a world file.
Result<void> writeRaster(const RasterSource& source, const std::filesystem::path& path,
                         const RasterWriting& writing, const Progress& progress);

/// A raster with another CRS declared, cells untouched.
RasterPtr declared(RasterPtr source, crs::CrsPtr crs);

}  // namespace ledge::io
