#pragma once
#include "core/feature/feature.h"
#include "demo/terrain.h"

/// Vector data that agree with the terrain. All tables are in UTM zone 29N (EPSG:32629).
namespace ledge::demo {

struct Features {
    FeatureTable coast, lochs, streams, places, paths, roads, crofts, districts, gauges;
};
Result<Features> makeFeatures(const Terrain& terrain, const Options& options,
                              const Progress& progress);

}  // namespace ledge::demo
