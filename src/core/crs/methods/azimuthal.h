#pragma once
#include "core/crs/geodesic.h"
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// Lambert azimuthal equal area, every aspect (EPSG 9820); Snyder, pp. 187-190. The antipode of the
/// origin is outside.
class LambertAzimuthalKernel {
public:
    LambertAzimuthalKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_authalic(e), m_radius(m_authalic.radius()) {
        const double phi = radians(p.latitudeOfOrigin);
        if (isPole(phi)) {
            m_origin = {phi > 0 ? 1.0 : -1.0, 0};
        } else {
            const Direction direction = Direction::of(phi);
            m_origin = m_authalic.fromGeodetic(direction);
            m_stretch = parallelRadius(e.semiMajor, e.eccentricitySquared(), direction) /
                        (m_radius * m_origin.cosine);
        }
    }
    Point forward(double lambda, double phi) const {
        const Direction beta = m_authalic.fromGeodetic(Direction::of(phi));
        const Direction lon = Direction::of(lambda);
        const double b = 1 + m_origin.sine * beta.sine + m_origin.cosine * beta.cosine * lon.cosine;
        if (!(b > 1e-12)) return kNowhere;
        const double scale = m_radius * std::sqrt(2 / b);
        return {scale * m_stretch * beta.cosine * lon.sine,
                scale / m_stretch *
                    (m_origin.cosine * beta.sine - m_origin.sine * beta.cosine * lon.cosine)};
    }
    Point inverse(double x, double y) const {
        const double u = x / (m_stretch * m_radius), v = y * m_stretch / m_radius;
        const double q = u * u + v * v;
        if (!(q <= 4 * (1 + 1e-12))) return kNowhere;
        const double cosine = 1 - q / 2, scale = std::sqrt(std::max(0.0, 1 - q / 4));
        const double sine = cosine * m_origin.sine + v * scale * m_origin.cosine;
        const double east = u * scale, north = cosine * m_origin.cosine - v * scale * m_origin.sine;
        const double side = std::sqrt(east * east + north * north);
        return {std::atan2(east, north),
                m_authalic.toGeodetic(std::atan2(sine, side), {sine, side})};
    }

private:
    AuthalicLatitude m_authalic;
    double m_radius, m_stretch = 1;
    Direction m_origin;
};

/// Azimuthal equidistant by the geodesics of the ellipsoid: true distance and azimuth from the
/// origin (EPSG 1125).
class AzimuthalEquidistantKernel {
public:
    AzimuthalEquidistantKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_geodesic(e), m_origin{0, p.latitudeOfOrigin} {}
    Point forward(double lambda, double phi) const {
        const auto line =
            m_geodesic.inverse(m_origin, {lambda / kRadiansPerDegree, phi / kRadiansPerDegree});
        const Direction azimuth = Direction::of(radians(line.bearingStart));
        return {line.distance * azimuth.sine, line.distance * azimuth.cosine};
    }
    Point inverse(double x, double y) const {
        const double distance = std::hypot(x, y);
        if (!(distance <= m_geodesic.ellipsoid().semiMajor * kPi)) return kNowhere;
        const Point at =
            m_geodesic.direct(m_origin, std::atan2(x, y) / kRadiansPerDegree, distance).at;
        return {radians(at.x), radians(at.y)};
    }

private:
    Geodesic m_geodesic;
    Point m_origin;
};

/// Gnomonic projection of the sphere of the semi-major axis (Snyder, pp. 165-167): great circles
/// are straight. Only the hemisphere about the origin.
class GnomonicKernel {
public:
    GnomonicKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_radius(e.semiMajor), m_origin(isPole(radians(p.latitudeOfOrigin))
                                              ? Direction{std::copysign(1.0, p.latitudeOfOrigin), 0}
                                              : Direction::of(radians(p.latitudeOfOrigin))) {}
    Point forward(double lambda, double phi) const {
        const Direction lat = Direction::of(phi), lon = Direction::of(lambda);
        const double c = m_origin.sine * lat.sine + m_origin.cosine * lat.cosine * lon.cosine;
        if (!(c > 1e-6)) return kNowhere;
        return {m_radius * lat.cosine * lon.sine / c,
                m_radius * (m_origin.cosine * lat.sine - m_origin.sine * lat.cosine * lon.cosine) /
                    c};
    }
    Point inverse(double x, double y) const {
        const double u = x / m_radius, v = y / m_radius, h = 1 / std::sqrt(1 + u * u + v * v);
        if (!(h > 1e-6)) return kNowhere;
        const double sine = h * (m_origin.sine + v * m_origin.cosine);
        const double east = h * u, north = h * (m_origin.cosine - v * m_origin.sine);
        return {std::atan2(east, north), std::atan2(sine, std::hypot(east, north))};
    }

private:
    double m_radius;
    Direction m_origin;
};

/// Orthographic projection of the ellipsoid (EPSG 9840); IOGP Guidance Note 7-2, 3.3.5. Only what
/// is seen from infinitely far above the origin.
class OrthographicKernel {
public:
    OrthographicKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_semiMajor(e.semiMajor), m_e2(e.eccentricitySquared()),
          m_origin(isPole(radians(p.latitudeOfOrigin))
                       ? Direction{std::copysign(1.0, p.latitudeOfOrigin), 0}
                       : Direction::of(radians(p.latitudeOfOrigin))),
          m_height(m_semiMajor * m_e2 * primeVertical(m_origin.sine, m_e2) * m_origin.sine) {}
    Point forward(double lambda, double phi) const {
        const Direction lat = Direction::of(phi), lon = Direction::of(lambda);
        const double seen = m_origin.sine * lat.sine + m_origin.cosine * lat.cosine * lon.cosine;
        if (!(seen > -1e-12)) return kNowhere;
        const double prime = m_semiMajor * primeVertical(lat.sine, m_e2);
        return {prime * lat.cosine * lon.sine,
                prime * (lat.sine * m_origin.cosine - lat.cosine * m_origin.sine * lon.cosine) +
                    (m_height - m_e2 * prime * lat.sine) * m_origin.cosine};
    }
    /// Where the line of sight first meets the ellipsoid; a quadratic in the depth below the
    /// origin's tangent plane.
    Point inverse(double x, double y) const {
        // Geocentric position in the meridian frame of the origin: X towards it, Z the axis.
        const double prime0 = m_semiMajor * primeVertical(m_origin.sine, m_e2);
        const double x0 = prime0 * m_origin.cosine, z0 = prime0 * (1 - m_e2) * m_origin.sine;
        const double k = 1 / (1 - m_e2);
        const double px = x0 - y * m_origin.sine, pz = z0 + y * m_origin.cosine;
        // (px - d cos)^2 + x^2 + k (pz - d sin)^2 = a^2
        const double a = m_origin.cosine * m_origin.cosine + k * m_origin.sine * m_origin.sine;
        const double b = px * m_origin.cosine + k * pz * m_origin.sine;
        const double c = px * px + x * x + k * pz * pz - m_semiMajor * m_semiMajor;
        const double disc = b * b - a * c;
        if (!(disc > -1e-9 * b * b)) return kNowhere;
        // The smaller root without cancellation.
        const double depth = c / (b + std::sqrt(std::max(0.0, disc)));
        const double gx = px - depth * m_origin.cosine, gz = pz - depth * m_origin.sine;
        return {std::atan2(x, gx), std::atan2(gz, (1 - m_e2) * std::hypot(gx, x))};
    }

private:
    double m_semiMajor, m_e2;
    Direction m_origin;
    double m_height;
};

}  // namespace ledge::crs
