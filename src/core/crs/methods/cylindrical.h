#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// Lambert cylindrical equal area (EPSG 9835); Snyder, pp. 76-85.
class CylindricalEqualAreaKernel {
public:
    CylindricalEqualAreaKernel(const ProjectionParameters& p, const Ellipsoid& e) : m_authalic(e) {
        m_across = parallelRadius(e.semiMajor, e.eccentricitySquared(),
                                  Direction::of(radians(p.standardParallel1)));
        m_up = e.semiMajor * e.semiMajor * m_authalic.qPole() / (2 * m_across);
    }
    Point forward(double lambda, double phi) const {
        return {m_across * lambda, m_up * m_authalic.fromGeodetic(Direction::of(phi)).sine};
    }
    Point inverse(double x, double y) const {
        const double sine = y / m_up;
        if (!(std::abs(sine) <= 1 + 1e-12) || !(std::abs(x) <= m_across * kPi * (1 + 1e-12)))
            return kNowhere;
        return {x / m_across, m_authalic.fromSine(std::clamp(sine, -1.0, 1.0))};
    }

private:
    AuthalicLatitude m_authalic;
    double m_across = 0, m_up = 0;
};

/// Equidistant cylindrical of the ellipsoid (EPSG 1028) or of the sphere of the semi-major axis
/// (1029); IOGP Guidance Note 7-2, 3.2.5.
template <bool kSpherical>
class EquidistantCylindricalKernel {
public:
    EquidistantCylindricalKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_meridian(kSpherical ? Ellipsoid{"sphere", e.semiMajor, 0} : e) {
        const Direction parallel = Direction::of(radians(p.standardParallel1));
        m_across = e.semiMajor * parallel.cosine *
                   (kSpherical ? 1 : primeVertical(parallel.sine, e.eccentricitySquared()));
        m_origin = m_meridian.at(radians(p.latitudeOfOrigin));
    }
    Point forward(double lambda, double phi) const {
        return {m_across * lambda, m_meridian.at(phi) - m_origin};
    }
    Point inverse(double x, double y) const {
        const double distance = y + m_origin;
        if (!(std::abs(distance) <= m_meridian.toPole() * (1 + 1e-12)) ||
            !(std::abs(x) <= m_across * kPi * (1 + 1e-12)))
            return kNowhere;
        return {x / m_across, m_meridian.latitude(distance)};
    }

private:
    MeridianDistance m_meridian;
    double m_across = 0, m_origin = 0;
};

/// Cassini-Soldner by the published series (EPSG 9806); IOGP Guidance Note 7-2, 3.2.2. Within 30
/// degrees of the central meridian.
class CassiniSoldnerKernel {
public:
    CassiniSoldnerKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_meridian(e), m_semiMajor(e.semiMajor), m_e2(e.eccentricitySquared()),
          m_origin(m_meridian.at(radians(p.latitudeOfOrigin))) {}
    Point forward(double lambda, double phi) const {
        if (!(std::abs(lambda) <= radians(30)) || std::abs(phi) > radians(89.9)) return kNowhere;
        return series(lambda, phi);
    }
    Point inverse(double x, double y) const {
        const double foot = m_meridian.latitude(y + m_origin);
        if (!(std::abs(foot) < radians(89.9)) || !(std::abs(x) < m_semiMajor)) return kNowhere;
        const Direction lat = Direction::of(foot);
        const double prime = m_semiMajor * primeVertical(lat.sine, m_e2), d = x / prime;
        const double tan = lat.sine / lat.cosine;
        const Point guess{d / lat.cosine, foot - tan * d * d / 2};
        return solvedInverse([this](double l, double b) { return series(l, b); }, {x, y}, guess);
    }

private:
    Point series(double lambda, double phi) const {
        const Direction lat = Direction::of(phi);
        const double prime = m_semiMajor * primeVertical(lat.sine, m_e2);
        const double a = lambda * lat.cosine, tan = lat.sine / lat.cosine, t = tan * tan;
        const double c = m_e2 * lat.cosine * lat.cosine / (1 - m_e2), a2 = a * a;
        return {prime * a * (1 - t * a2 / 6 - (8 - t + 8 * c) * t * a2 * a2 / 120),
                m_meridian.at(phi) - m_origin +
                    prime * tan * a2 * (0.5 + (5 - t + 6 * c) * a2 / 24)};
    }
    MeridianDistance m_meridian;
    double m_semiMajor, m_e2, m_origin;
};

}  // namespace ledge::crs
