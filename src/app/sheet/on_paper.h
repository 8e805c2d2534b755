#pragma once
#include <cmath>

#include "carto/map_frame.h"
#include "core/base/numbers.h"
#include "core/geometry/point.h"

/// Positions on a sheet, as hands set them.
namespace ledge::app {

using carto::qt;
/// To a tenth of a millimetre.
inline double tenth(double mm) { return std::round(mm * 10) / 10; }
/// As edits take places: two numbers and a comma.
inline std::string placeText(Point at) { return exactNumber(at.x) + "," + exactNumber(at.y); }

}  // namespace ledge::app
