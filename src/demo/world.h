#pragma once
#include <filesystem>

#include "core/feature/feature.h"
#include "core/raster/raster_source.h"

/// A small world of its own: invented lands, seas, capitals and a line between two of them. Land
/// lies over both poles and the antimeridian. Longitudes and latitudes, WGS 84.
namespace ledge::demo {

struct World {
    RasterPtr relief;    ///< heights in metres, a row and a column each half degree, poles included
    FeatureTable lands;  ///< name, region, people
    FeatureTable capitals;  ///< name, land, rank
    FeatureTable courses;   ///< between two capitals: the shortest way, and one of constant bearing
};
Result<World> makeWorld(std::uint64_t seed, const Progress& progress);

/// Writes the data and the project world.ledge into a folder, each file atomically.
Result<void> writeWorld(const std::filesystem::path& folder, const Progress& progress);

}  // namespace ledge::demo
