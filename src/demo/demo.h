#pragma once
#include <filesystem>

#include "demo/terrain.h"
#include "document/document.h"

namespace ledge::demo {

/// Writes the Skerravoe data and the project skerravoe.ledge, and the small world with its project
/// world.ledge, into a folder, each file atomically.
/// Existing files of these names are replaced. Returns the path of
/// skerravoe.ledge.
Result<std::filesystem::path> writeDemo(const std::filesystem::path& folder, const Options& options,
                                        const Progress& progress);

}  // namespace ledge::demo
