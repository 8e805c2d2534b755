#pragma once
#include <filesystem>

#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens the shapes of a .shp with the .dbf and .prj beside it; missing ones become notes.
/// Points, multipoints, lines and polygons; Z and M values are left out.
/// Errors: BadFormat, Unsupported, Cancelled.
Result<FeatureSourcePtr> openShapefile(const std::filesystem::path& path,
                                       const Progress& progress = {});

/// Writes .shp, .shx, .dbf, .cpg and, for a declared CRS, .prj. One geometry type a file.
Result<void> writeShapefile(const FeatureTable& table, FileSet& set, const Progress& progress = {});

}  // namespace ledge::io
