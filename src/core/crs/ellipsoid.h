#pragma once
#include <array>
#include <string>

#include "core/base/constants.h"
#include "core/geometry/point.h"

namespace ledge::crs {

using ledge::kPi;
using ledge::kRadiansPerDegree;

/// An ellipsoid of revolution; inverseFlattening 0 is a sphere. Lengths in metres.
struct Ellipsoid {
    std::string name = "WGS 84";
    double semiMajor = 6378137.0;
    double inverseFlattening = 298.257223563;

    bool operator==(const Ellipsoid&) const = default;
    bool hasShapeOf(const Ellipsoid& o) const {
        return semiMajor == o.semiMajor && inverseFlattening == o.inverseFlattening;
    }
    double flattening() const { return inverseFlattening == 0 ? 0 : 1 / inverseFlattening; }
    double semiMinor() const { return semiMajor * (1 - flattening()); }
    double eccentricitySquared() const { return flattening() * (2 - flattening()); }
    double eccentricity() const { return std::sqrt(eccentricitySquared()); }
};

/// Metres for one degree at a latitude, on the ellipsoid: x along the parallel, y the meridian.
Point metresPerDegree(const Ellipsoid& ellipsoid, double latitudeDegrees);

/// Rectifying latitude and the radius of its sphere: the meridian arc from the equator is
/// radius x rectifying latitude. Coefficients come from the Fourier form of the arc's integrand.
struct MeridianArc {
    static constexpr int kOrder = 12;
    double radius = 0;
    std::array<long double, kOrder + 1> sines{};  ///< of 2k x latitude, in radians of arc

    explicit MeridianArc(const Ellipsoid& ellipsoid);
    long double rectifying(long double latitude) const;
};

/// Earth-centred coordinates in metres, EPSG method 9602.
struct Geocentric {
    double x = 0, y = 0, z = 0;
};
Geocentric toGeocentric(const Ellipsoid& e, double lonDegrees, double latDegrees, double height);
/// Longitude, latitude in degrees and ellipsoidal height.
/// Bowring 1985 refined by Newton steps; below 1e-9 m from 10 km down to 10 000 km up.
struct GeodeticPosition {
    double lon = 0, lat = 0, height = 0;
};
GeodeticPosition fromGeocentric(const Ellipsoid& e, Geocentric p);

}  // namespace ledge::crs
