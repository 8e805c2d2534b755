#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens placemarks of KML (OGC 12-007r2): a layer for each folder and kind of shape, WGS 84
/// longitude and latitude; fields name, description and those of the extended data. Shapes of
/// several kinds in one placemark are parted, and that is noted.
/// Errors: BadFormat with the place; Cancelled.
Result<FeatureSourcePtr> openKml(const std::filesystem::path& path, const Progress& progress = {});

/// Writes placemarks in WGS 84, fields as extended data; a field called name, else the first text,
/// is what they are called.
Result<void> writeKml(const FeatureTable& table, FileSet& set, const Progress& progress = {});

/// Opens waypoints, routes and tracks of GPX 1.0 and 1.1 as layers, heights kept; name, time and
/// the plain members of each as fields. Errors: BadFormat with the place; Cancelled.
Result<FeatureSourcePtr> openGpx(const std::filesystem::path& path, const Progress& progress = {});

}  // namespace ledge::io
