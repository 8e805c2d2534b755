#pragma once
#include <filesystem>

#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens the feature layers of a GeoPackage (OGC 12-128r18). Features are read as they are asked
/// for; a view that computes them can be stopped. Errors: BadFormat, Cancelled.
Result<FeatureSourcePtr> openGeoPackage(const std::filesystem::path& path,
                                        const Progress& progress = {});

/// Writes a table as a layer: into a new file, or, when the file is there, in one transaction of
/// its own, replacing the layer of that name and keeping the others. Others may have it open;
/// while they write it waits. On failure the old file stays as it was.
Result<void> writeGeoPackage(const FeatureTable& table, FileSet& set, const Progress& progress);
/// The same of a table that comes part by part, whose keys are unique. Errors: also those of
/// `next`; IoFailure where somebody else made the file meanwhile.
Result<void> writeGeoPackageParts(const LayerInfo& info, const NextPart& next, FileSet& set,
                                  const Progress& progress);

}  // namespace ledge::io
