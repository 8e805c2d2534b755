#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"
#include "demo/features.h"
#include "document/document.h"

namespace ledge::demo {

/// The project over the demo data: a finished map, saved views and sheets.
doc::Document demoProject(const std::filesystem::path& folder, const Features& features,
                          const Terrain& terrain, const RasterSource& cover);

}  // namespace ledge::demo
