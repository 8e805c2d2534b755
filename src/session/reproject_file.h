#pragma once
#include <filesystem>

#include "core/raster/warp.h"
#include "session/source_cache.h"

namespace ledge::session {

/// Writes a source with new coordinates in another CRS, in the format of the suffix; the source
/// stays as it is. Rasters are streamed. Errors: undeclared CRS, those of reading and writing.
Result<void> reprojectToFile(const SourceCache& sources, const doc::SourceRef& source,
                             const crs::CrsPtr& target, Resampling resampling,
                             const std::filesystem::path& path, const Progress& progress);

}  // namespace ledge::session
