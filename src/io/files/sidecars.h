#pragma once
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::io {

/// The file beside `path` with another suffix, in lower or upper case; nothing when there is none.
std::optional<std::filesystem::path> sidecar(const std::filesystem::path& path,
                                             const std::string& suffix);

/// The CRS of the .prj beside a file. Without one, or with one that cannot be used, undeclared,
/// and a note says why.
crs::CrsPtr crsBeside(const std::filesystem::path& path, std::vector<std::string>& notes);

}  // namespace ledge::io
