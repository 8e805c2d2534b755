#pragma once
#include <optional>
#include <string>

#include "core/crs/crs.h"

namespace ledge::session {

/// A position as people type it, in the map's CRS:
///  - degrees, latitude first unless letters of the winds say otherwise: "61.58 -10.7",
///    "61.6N 10.7W", "W 10.7 N 61.6", "61°35'N 10°40'W", "61 35 12 N, 10 40 30 W", "61:35:12
///    -10:40";
///  - map coordinates, easting first unless letters say otherwise, where the numbers lie beyond
///    degrees or the map has local coordinates: "E 412360 N 6829114", "412360, 6829114";
///  - a reference of the military grid: "29VNJ 40123 34021".
/// Nothing for what is none, or has no place on the map.
std::optional<Point> typedPosition(const std::string& typed, const crs::CrsPtr& mapCrs);

}  // namespace ledge::session
