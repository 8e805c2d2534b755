#pragma once
#include "core/crs/crs.h"

/// Maps on which one goes on around the earth: those of cylinders, whose right edge is the left.
namespace ledge::globe {

/// Width of once around, in units of the map; 0 where one comes to an end.
double turnWidth(const crs::CrsPtr& map);

/// What of the first coordinate the map's own turn takes; of no width where there is none.
Box turnBox(const crs::CrsPtr& map);

/// The same place within the map's own turn; as it is where there is none.
Point intoTurn(const crs::CrsPtr& map, Point at);

}  // namespace ledge::globe
