#pragma once
#include <vector>

#include "core/crs/transformation.h"

namespace ledge::globe {

/// One line of a constant coordinate as it runs on a map; in pieces where it leaves the domain.
struct GridLine {
    double value = 0;         ///< the coordinate, in the grid's CRS
    bool isConstantX = true;  ///< a meridian or an easting; else a parallel or a northing
    std::vector<std::vector<Point>> pieces;  ///< in the map's CRS
};

/// Lines at multiples of `interval` (of the grid's unit) that cross a box of the map. Meridians and
/// parallels end where the map's domain does, and are cut where it is torn. Lines are followed
/// closely enough that no point is off by more than `tolerance` (map units). At most 400 lines each
/// way; fewer than asked come from a larger interval. None where the CRSs have no common datum.
std::vector<GridLine> gridLines(const crs::CrsPtr& grid, const crs::CrsPtr& map,
                                const Box& frameBox, double interval, double tolerance);

/// A round interval of degrees, minutes or seconds that reaches `degrees`.
double roundGraticuleInterval(double degrees);

/// A meridian's or parallel's name without needless parts: 61° 30′ N, 10° W, 0°.
std::string graticuleLabel(double degrees, bool isLatitude);

}  // namespace ledge::globe
