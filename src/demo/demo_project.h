#pragma once
#include <filesystem>

#include "demo/features.h"
#include "document/document.h"

namespace ledge::demo {

/// The project over the demo data: a finished map, saved views and sheets.
doc::Document demoProject(const std::filesystem::path& folder, const Features& features,
                          const Terrain& terrain);

}  // namespace ledge::demo
