#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/crs/crs.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// The file beside `path` with another suffix, in lower or upper case; nothing when there is none.
std::optional<std::filesystem::path> sidecar(const std::filesystem::path& path,
                                             const std::string& suffix);

/// The CRS of the .prj beside a file. Without one, or with one that cannot be used, undeclared,
/// and a note says why.
crs::CrsPtr crsBeside(const std::filesystem::path& path, std::vector<std::string>& notes);

/// The .prj of a set: one that says this CRS already stays as it is; without a CRS there must be
/// none. Errors: those of FileSet::put.
Result<void> putCrs(FileSet& set, const crs::CrsPtr& crs);

}  // namespace ledge::io
