#pragma once
#include <span>
#include <vector>

#include "core/crs/crs.h"

namespace ledge::crs {

/// How the axes of a CRS lie over the ground at a place: metres on the ellipsoid for one unit of
/// each, the angle between them, and the direction of its north. Smooth everywhere, at poles too,
/// but for the direction there.
struct GroundMetric {
    double xx = 1, xy = 0, yy = 1;  ///< inner products of a unit step in x and in y, square metres
    /// Grid north (towards falling southings where the CRS counts those) from true north,
    /// clockwise: its sine and cosine.
    double northSine = 0, northCosine = 1;

    bool isFinite() const;
    /// Square metres of ground for one square unit.
    double area() const;
};

/// By differences of the inverse projection, taken between geocentric positions; relative error
/// below 1e-8. An undeclared CRS counts as metres. Outside the domain: not finite.
/// `at` in the CRS's own coordinates.
std::vector<GroundMetric> groundMetrics(const CrsPtr& crs, std::span<const Point> at);

/// Square metres on the ellipsoid between two parallels and two meridians, degrees; exact (Snyder,
/// USGS Professional Paper 1395, eq. 3-12 by the authalic latitude).
class ZoneArea {
public:
    explicit ZoneArea(const Ellipsoid& ellipsoid);
    ~ZoneArea();
    double between(double south, double north, double degreesOfLongitude) const;

private:
    struct Parts;
    std::unique_ptr<const Parts> m_parts;
};

}  // namespace ledge::crs
