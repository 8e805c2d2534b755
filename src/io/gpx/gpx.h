#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens waypoints, routes and tracks of GPX 1.0 and 1.1 as layers, heights kept; name, time and
/// the plain members of each as fields, those of extensions too. Errors: BadFormat with the place;
/// Cancelled.
Result<FeatureSourcePtr> openGpx(const std::filesystem::path& path, const Progress& progress = {});

/// What of a table it would lose.
std::vector<std::string> limitsOfGpx(const FeatureTable& table);

/// Writes points as waypoints and lines as tracks, in WGS 84; fields called name, cmt, desc and
/// type as such, others as extensions of their own. Errors: Unsupported for areas; Cancelled.
Result<void> writeGpx(const FeatureTable& table, FileSet& set, const Progress& progress = {});

}  // namespace ledge::io
