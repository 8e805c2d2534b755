#include "core/globe/around.h"

#include <cmath>

#include "core/crs/projection.h"
#include "core/globe/domain.h"

namespace ledge::globe {
namespace {
// Of the central meridian's image, and how far the map reaches to either side.
Point middleAndReach(const crs::CrsPtr& map) {
    if (!domainOf(map).goesAround) return {};
    if (map->isGeographic()) return {0, 180};
    const auto projection = crs::sharedProjection(map->method, map->parameters, map->ellipsoid);
    if (!projection) return {};
    const double lon = map->parameters.centralMeridian;
    Point ends[] = {{lon, 0}, {lon + 90, 0}};
    (*projection)->forward(ends);
    return Point{ends[0].x, 2 * (ends[1].x - ends[0].x)} * (1 / map->unit.size);
}
}  // namespace

double turnWidth(const crs::CrsPtr& map) { return 2 * middleAndReach(map).y; }

Box turnBox(const crs::CrsPtr& map) {
    const auto [middle, reach] = middleAndReach(map);
    return {middle - reach, 0, middle + reach, 0};
}

Point intoTurn(const crs::CrsPtr& map, Point at) {
    const auto [middle, reach] = middleAndReach(map);
    if (!(reach > 0) || !at.isFinite()) return at;
    return {at.x - 2 * reach * std::round((at.x - middle) / (2 * reach)), at.y};
}

}  // namespace ledge::globe
