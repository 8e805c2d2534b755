#pragma once
#include <filesystem>

#include "core/feature/feature.h"

namespace ledge::io {

/// Opens the feature layers of a GeoPackage (OGC 12-128r18). Features are read as they are asked
/// for. Errors: BadFormat.
Result<FeatureSourcePtr> openGeoPackage(const std::filesystem::path& path);

/// Writes a table as a layer: into a new file, or, when the file is there, replacing the layer of
/// that name and keeping the others. Atomic: on failure the old file stays as it was.
Result<void> writeGeoPackage(const FeatureTable& table, const std::filesystem::path& path,
                             const Progress& progress);

}  // namespace ledge::io
