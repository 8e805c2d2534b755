#pragma once
#include <span>
#include <vector>

#include "core/crs/crs.h"

/// Where the map of a CRS ends and where it is torn, said once for each method: cutting, rasters,
/// graticules and the outline of the globe all go by it. Longitudes and latitudes are degrees from
/// Greenwich on the CRS's own datum.
namespace ledge::globe {

/// A tear from the equator to a pole, where an interrupted map has a gap.
struct Slit {
    double longitude = 0;  ///< from the central meridian
    bool isNorth = true;
};

struct Domain {
    enum class Kind {
        Plane,  ///< no globe: local coordinates
        Strip,  ///< between two meridians and two parallels, torn along the first
        Cap,    ///< within a distance of a centre
    };
    Kind kind = Kind::Plane;
    // Of a strip.
    double meridian = 0;     ///< the central one
    double halfWidth = 180;  ///< degrees of longitude to either side
    double south = -90, north = 90;
    bool goesAround = false;    ///< a cylinder's: its right edge is its left one
    std::vector<Slit> slits;    ///< from west to east, those of the north first
    std::vector<double> kinks;  ///< parallels at which meridians have a corner
    // Of a cap, on the sphere whose latitudes are the geodetic ones.
    Point centre;
    double radius = 180;  ///< degrees of arc, below 180

    bool isWhole() const { return halfWidth >= 180; }
    /// Whether a position can be drawn; those on the boundary can.
    bool contains(Point lonLat) const;
    /// The boundary, closed, interior on the left; no step longer than `step` degrees. A whole
    /// strip's meridians lie a hair inside of the tear, so that each side is drawn on its own.
    /// Longitudes go on beyond 180. Empty for a plane.
    std::vector<Point> boundary(double step) const;
};

/// Errors in a CRS's parameters are none here: it then has the domain of its method.
Domain domainOf(const crs::CrsPtr& crs);

/// By how much a whole strip's edge lies inside of the tear, degrees: a micrometre on the ground.
inline constexpr double kHair = 1e-11;

/// Arc between two positions on the sphere, degrees.
double arcBetween(Point a, Point b);
/// The position at an azimuth (degrees clockwise from north) and arc from another.
Point arcFrom(Point from, double azimuth, double arc);
/// Azimuth of one position from another, degrees clockwise from north.
double azimuthTo(Point from, Point to);

}  // namespace ledge::globe
