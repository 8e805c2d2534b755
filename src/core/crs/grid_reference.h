#pragma once
#include <optional>
#include <string_view>

#include "core/geometry/point.h"

namespace ledge::crs {

/// A place named by a reference of the Military Grid Reference System.
struct GridReference {
    int code = 0;     ///< EPSG code of the plane: UTM on WGS 84, or polar stereographic (UPS)
    Point at;         ///< middle of the square named: easting and northing in metres
    double side = 0;  ///< of that square, metres: 100 000 to 1
};

/// Reads "29VNJ 40123 34021": zone, band, the letters of a square of 100 km, and the same number of
/// digits of easting and northing, none to five; blanks anywhere. Nothing for what is none.
/// After NGA.STND.0037, The Universal Grids, sections on MGRS; lettering of WGS 84.
std::optional<GridReference> parseGridReference(std::string_view text);

}  // namespace ledge::crs
