#pragma once
#include <filesystem>

#include "demo/terrain.h"
#include "document/document.h"

namespace ledge::demo {

/// Writes the Skerravoe data and the project skerravoe.ledge into a folder, each file atomically.
/// Existing files of these names are replaced. Returns the project's path.
Result<std::filesystem::path> writeDemo(const std::filesystem::path& folder, const Options& options,
                                        const Progress& progress);

}  // namespace ledge::demo
