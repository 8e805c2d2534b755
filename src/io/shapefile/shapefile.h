#pragma once
#include <filesystem>

#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens the shapes of a .shp with the .dbf, .cpg and .prj beside it; missing ones become notes, a
/// missing .shx is not needed. Points, multipoints, lines and polygons, with their Z and M. Text is
/// in the encoding of `reading`, else of the .cpg, else of the table's code page.
/// Errors: BadFormat, Unsupported, Cancelled.
Result<FeatureSourcePtr> openShapefile(const std::filesystem::path& path,
                                       const Progress& progress = {}, const Reading& reading = {});

/// What of a table a shapefile would lose.
std::vector<std::string> limitsOfShapefile(const FeatureTable& table);

/// Writes .shp, .shx, .dbf, .cpg and, for a declared CRS, .prj. One geometry type a file.
Result<void> writeShapefile(const FeatureTable& table, FileSet& set, const Progress& progress = {});

}  // namespace ledge::io
