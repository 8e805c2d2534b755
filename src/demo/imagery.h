#pragma once
#include "core/raster/raster_source.h"
#include "demo/terrain.h"

namespace ledge::demo {

/// Land cover of the islands on a grid half as fine as the terrain: a raster of seven classes with
/// a palette; 0 is the sea, without data.
RasterPtr landCover(const Terrain& terrain);
/// Names of its classes from value 1.
const std::vector<std::string>& landCoverNames();

/// What a survey flight would have pictured in summer: red, green, blue and near infrared of 8 bits
/// on the same grid, lit from the south-west.
RasterPtr aerialPicture(const Terrain& terrain, const RasterSource& cover);

}  // namespace ledge::demo
