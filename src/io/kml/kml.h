#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens placemarks of KML (OGC 12-007r2): a layer for each folder and kind of shape, WGS 84
/// longitude and latitude; fields name, description, those of the extended data, and
/// of simple styles stroke, stroke_width and fill. Shapes of
/// several kinds in one placemark are parted, and that is noted.
/// Errors: BadFormat with the place; Cancelled.
Result<FeatureSourcePtr> openKml(const std::filesystem::path& path, const Progress& progress = {});

/// Writes placemarks in WGS 84, fields as extended data, those called stroke, stroke_width and fill
/// as simple styles; a field called name, else the first text,
/// is what they are called.
Result<void> writeKml(const FeatureTable& table, FileSet& set, const Progress& progress = {});

/// The same in a ZIP archive.
Result<FeatureSourcePtr> openKmz(const std::filesystem::path& path, const Progress& progress = {});
Result<void> writeKmz(const FeatureTable& table, FileSet& set, const Progress& progress = {});

}  // namespace ledge::io
