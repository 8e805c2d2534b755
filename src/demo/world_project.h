#pragma once
#include <filesystem>

#include "document/document.h"

namespace ledge::demo {

/// The project over the files of the world: relief, lands by region, capitals, two courses, a globe
/// with its net of lines, and a sheet on which six maps of the world can be compared.
doc::Document worldProject(const std::filesystem::path& folder);

}  // namespace ledge::demo
