#include "core/globe/domain.h"

#include <algorithm>
#include <cmath>

namespace ledge::globe {
namespace {
using crs::kPi;
using crs::kRadiansPerDegree;

// Where a square map of the world in web Mercator ends: atan(sinh(pi)).
constexpr double kSquareMercator = 85.0511287798066;
// How far kernels reach, and beyond which maps of a method show nothing but stretch.
constexpr double kTransverseReach = 80, kCassiniReach = 30, kPolyconicReach = 90;
constexpr double kConeFarSide = 30;  // degrees beyond the equator from a conformal cone's apex
constexpr double kStereographicReach = 120;  // scale 4
constexpr double kGnomonicReach = 75;
constexpr double kObliqueReach = 60;
constexpr double kNewZealandReach = 12.9;
// A hair short of what would tear at one point: the antipode, where geodesics of the ellipsoid
// meet from more than one side.
constexpr double kAntipode = 179.99, kEquidistantAntipode = 179.3;

Domain strip(double meridian, double halfWidth = 180, double south = -90, double north = 90) {
    Domain out;
    out.kind = Domain::Kind::Strip;
    out.meridian = meridian;
    out.halfWidth = halfWidth;
    out.south = south;
    out.north = north;
    return out;
}

// Straight meridians at equal steps.
Domain cylinder(double meridian, double reach = 90) {
    Domain out = strip(meridian, 180, -reach, reach);
    out.goesAround = true;
    return out;
}

Domain cap(Point centre, double radius) {
    Domain out;
    out.kind = Domain::Kind::Cap;
    out.centre = centre;
    out.radius = radius;
    return out;
}

Domain cone(const crs::ProjectionParameters& p, double apexSide) {
    return apexSide >= 0 ? strip(p.centralMeridian, 180, -kConeFarSide, 90)
                         : strip(p.centralMeridian, 180, -90, kConeFarSide);
}

Domain interrupted(double meridian) {
    Domain out = strip(meridian);
    out.slits = {{-40, true}, {-100, false}, {-20, false}, {80, false}};
    constexpr double kJoin = 40 + 44 / 60.0 + 11.8 / 3600;  // of the two curves
    out.kinks = {-kJoin, 0, kJoin};
    return out;
}

Domain kinked(double meridian) {
    Domain out = strip(meridian);
    out.kinks = {0};
    return out;
}

// An oblique cylinder is drawn around its centre; poles are no part of it.
Domain oblique(Point centre) {
    return cap(centre, std::min(kObliqueReach, 90 - std::abs(centre.y) - 0.5));
}
}  // namespace

double arcBetween(Point a, Point b) {
    // Haversines: exact for near and nearly so for far positions.
    const double dLat = (b.y - a.y) * kRadiansPerDegree, dLon = (b.x - a.x) * kRadiansPerDegree;
    const double s = std::sin(dLat / 2), t = std::sin(dLon / 2);
    const double h =
        s * s + std::cos(a.y * kRadiansPerDegree) * std::cos(b.y * kRadiansPerDegree) * t * t;
    return 2 * std::asin(std::sqrt(std::clamp(h, 0.0, 1.0))) / kRadiansPerDegree;
}

Point arcFrom(Point from, double azimuth, double arc) {
    const double lat = from.y * kRadiansPerDegree, az = azimuth * kRadiansPerDegree,
                 d = arc * kRadiansPerDegree;
    // By rectangular coordinates about the start, which keep small distances from a pole.
    const double north = std::sin(d) * std::cos(az), east = std::sin(d) * std::sin(az);
    const double z = std::cos(d) * std::sin(lat) + north * std::cos(lat);
    const double x = std::cos(d) * std::cos(lat) - north * std::sin(lat);
    return {from.x + std::atan2(east, x) / kRadiansPerDegree,
            std::atan2(z, std::hypot(x, east)) / kRadiansPerDegree};
}

double azimuthTo(Point from, Point to) {
    const double lat1 = from.y * kRadiansPerDegree, lat2 = to.y * kRadiansPerDegree,
                 d = (to.x - from.x) * kRadiansPerDegree;
    return std::atan2(std::cos(lat2) * std::sin(d),
                      std::cos(lat1) * std::sin(lat2) -
                          std::sin(lat1) * std::cos(lat2) * std::cos(d)) /
           kRadiansPerDegree;
}

bool Domain::contains(Point p) const {
    switch (kind) {
    case Kind::Plane: return true;
    case Kind::Cap: return arcBetween(centre, p) <= radius;
    case Kind::Strip: break;
    }
    return p.y >= south && p.y <= north &&
           std::abs(std::remainder(p.x - meridian, 360.0)) <= halfWidth;
}

std::vector<Point> Domain::boundary(double step) const {
    std::vector<Point> corners;
    if (kind == Kind::Cap) {
        const auto count = static_cast<int>(std::ceil(360 / step));
        for (int i = 0; i <= count; ++i)
            corners.push_back(arcFrom(centre, -360.0 * (i % count) / count, radius));
        for (std::size_t i = 1; i < corners.size(); ++i)  // around a pole they go on
            corners[i].x =
                corners[i - 1].x + std::remainder(corners[i].x - corners[i - 1].x, 360.0);
        return corners;
    }
    if (kind == Kind::Plane) return corners;
    const double w = isWhole() ? halfWidth - kHair : halfWidth;
    const auto slit = [&](const Slit& s, double pole, double first, double second) {
        for (const Point p : {Point{s.longitude + first, pole}, Point{s.longitude + first, 0},
                              Point{s.longitude + second, 0}, Point{s.longitude + second, pole}})
            corners.push_back(p);
    };
    corners.push_back({-w, south});
    for (const Slit& s : slits)
        if (!s.isNorth) slit(s, south, -kHair, kHair);
    corners.push_back({w, south});
    corners.push_back({w, north});
    for (auto s = slits.rbegin(); s != slits.rend(); ++s)
        if (s->isNorth) slit(*s, north, kHair, -kHair);
    corners.push_back({-w, north});
    corners.push_back(corners.front());
    std::vector<Point> out;
    for (std::size_t i = 0; i + 1 < corners.size(); ++i) {
        const Point from = corners[i], along = corners[i + 1] - from;
        const auto parts = std::max(
            1, static_cast<int>(std::ceil(std::max(std::abs(along.x), std::abs(along.y)) / step)));
        for (int k = 0; k < parts; ++k) out.push_back(from + along * (double(k) / parts));
    }
    out.push_back(corners.front());
    for (Point& p : out) p.x += meridian;
    return out;
}

Domain domainOf(const crs::CrsPtr& crs) {
    if (!crs) return {};
    using crs::Method;
    const crs::ProjectionParameters& p = crs->parameters;
    const double lon = p.centralMeridian;
    switch (crs->method) {
    case Method::None: return cylinder(crs->primeMeridian);
    case Method::TransverseMercator:
    case Method::TransverseMercatorSouth: return strip(lon, kTransverseReach);
    case Method::MercatorA:
    case Method::MercatorB:
    case Method::WebMercator: return cylinder(lon, kSquareMercator);
    case Method::CylindricalEqualArea:
    case Method::EquidistantCylindrical:
    case Method::EquidistantCylindricalSpherical:
    case Method::Miller:
    case Method::GallStereographic: return cylinder(lon);
    case Method::LambertConformalConic1SP:
    case Method::LambertConformalConicWest: return cone(p, p.latitudeOfOrigin);
    case Method::LambertConformalConic2SP:
    case Method::LambertConformalConicBelgium:
    case Method::LambertConformalConicMichigan:
        return cone(p, p.standardParallel1 + p.standardParallel2);
    case Method::PolarStereographicA:
        return cap({lon, std::copysign(90, p.latitudeOfOrigin)}, kStereographicReach);
    case Method::PolarStereographicB:
    case Method::PolarStereographicC:
        return cap({lon, std::copysign(90, p.standardParallel1)}, kStereographicReach);
    case Method::ObliqueStereographic: return cap({lon, p.latitudeOfOrigin}, kStereographicReach);
    case Method::LambertAzimuthalEqualArea: return cap({lon, p.latitudeOfOrigin}, kAntipode);
    case Method::AzimuthalEquidistant: return cap({lon, p.latitudeOfOrigin}, kEquidistantAntipode);
    case Method::HotineObliqueMercatorA:
    case Method::HotineObliqueMercatorB:
    case Method::SwissObliqueMercator: return oblique({lon, p.latitudeOfOrigin});
    case Method::HotineObliqueMercatorTwoPoint:
        return oblique({p.longitude1 + std::remainder(p.longitude2 - p.longitude1, 360.0) / 2,
                        p.latitudeOfOrigin});
    case Method::Krovak:  // as far as the axis of the cone
        return cap({lon, p.latitudeOfOrigin}, std::abs(90 - p.azimuth - p.latitudeOfOrigin) - 0.5);
    case Method::CassiniSoldner: return strip(lon, kCassiniReach, -89.9, 89.9);
    case Method::AmericanPolyconic: return strip(lon, kPolyconicReach);
    case Method::NewZealandMapGrid:
        return strip(lon, kNewZealandReach, p.latitudeOfOrigin - kNewZealandReach,
                     p.latitudeOfOrigin + kNewZealandReach);
    case Method::Orthographic: return cap({lon, p.latitudeOfOrigin}, 90 - 1e-7);
    case Method::Gnomonic: return cap({lon, p.latitudeOfOrigin}, kGnomonicReach);
    case Method::InterruptedHomolosine: return interrupted(lon);
    case Method::Eckert1:
    case Method::Eckert2: return kinked(lon);
    case Method::AlbersEqualArea:
    case Method::EquidistantConic:
    case Method::Sinusoidal:
    case Method::Bonne:
    case Method::BonneSouth:
    case Method::Mollweide:
    case Method::Eckert3:
    case Method::Eckert4:
    case Method::Eckert5:
    case Method::Eckert6:
    case Method::EqualEarth:
    case Method::Robinson:
    case Method::NaturalEarth:
    case Method::WinkelTripel:
    case Method::Aitoff:
    case Method::Hammer:
    case Method::VanDerGrinten: return strip(lon);
    }
    return {};
}

}  // namespace ledge::globe
