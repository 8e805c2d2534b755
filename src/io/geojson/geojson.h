#pragma once
#include <filesystem>

#include "core/feature/feature.h"

namespace ledge::io {

/// Opens a GeoJSON (RFC 7946) FeatureCollection, Feature or geometry. Coordinates are WGS 84
/// longitude and latitude unless an older "crs" member names an EPSG code.
/// Errors: BadFormat with the place.
Result<FeatureSourcePtr> openGeoJson(const std::filesystem::path& path);

/// GeoJSON text of a table whose coordinates are WGS 84 longitude and latitude, or undeclared.
std::string geoJsonText(const FeatureTable& table);

/// Writes WGS 84 longitude and latitude, reprojecting from the table's CRS; features that cannot
/// be are an InvalidArgument error.
Result<void> writeGeoJson(const FeatureTable& table, const std::filesystem::path& path);

}  // namespace ledge::io
