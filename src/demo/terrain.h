#pragma once
#include <cstdint>
#include <vector>

#include "core/base/progress.h"
#include "core/geometry/affine.h"
#include "core/raster/block_view.h"

namespace ledge::demo {

/// How the invented islands are made. The same options give the same bytes.
struct Options {
    std::uint64_t seed = 29;
    double cell = 10;  ///< metres of the finest grid: 10, 15, 30 or 60
};

/// Flow over a terrain without pits: where each cell drains, and how much drains through it.
struct Flow {
    Grid<float> filled;                   ///< heights with pits filled to their rim
    std::vector<std::uint32_t> receiver;  ///< cell downstream; itself at the sea or the rim
    std::vector<std::uint32_t> order;     ///< cells from the outlets upward
    std::vector<float> area;              ///< cells draining through, itself included
};
/// Priority flood (Barnes, Lehman and Mulla 2014) from the sea (at or below 0) and the rim.
Flow routeFlow(const Grid<float>& heights);

struct Terrain {
    Grid<float> heights;    ///< metres, sea floor negative; row 0 is northern
    Affine toWorld;         ///< UTM zone 29N
    Grid<float> lochDepth;  ///< depth of standing fresh water
    double cell = 10;
};

/// Uplift against stream-power erosion (Whipple and Tucker 1999, solved implicitly after Braun and
/// Willett 2013), drowned valleys, wave-cut cliffs on the weather side, lochs, and a sea floor.
Result<Terrain> makeTerrain(const Options& options, const Progress& progress);

}  // namespace ledge::demo
