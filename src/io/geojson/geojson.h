#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens a GeoJSON (RFC 7946) FeatureCollection, Feature or geometry. Coordinates are WGS 84
/// longitude and latitude unless an older "crs" member names an EPSG code.
/// Errors: BadFormat with the place; Cancelled.
Result<FeatureSourcePtr> openGeoJson(const std::filesystem::path& path,
                                     const Progress& progress = {});

/// Opens a file with a feature on each line. Errors: BadFormat without any feature; Cancelled.
Result<FeatureSourcePtr> openGeoJsonLines(const std::filesystem::path& path,
                                          const Progress& progress = {});

/// GeoJSON text of a table whose coordinates are WGS 84 longitude and latitude, or undeclared.
/// Stopped work gives a part of it.
std::string geoJsonText(const FeatureTable& table, const Progress& progress = {});

/// Writes WGS 84 longitude and latitude, reprojecting from the table's CRS; features that cannot
/// be are an InvalidArgument error.
Result<void> writeGeoJson(const FeatureTable& table, FileSet& set, const Progress& progress = {});
/// The same, a feature on each line.
Result<void> writeGeoJsonLines(const FeatureTable& table, FileSet& set,
                               const Progress& progress = {});

}  // namespace ledge::io
