#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// Sinusoidal projection of the ellipsoid; Snyder, pp. 243-248.
class SinusoidalKernel {
public:
    SinusoidalKernel(const ProjectionParameters&, const Ellipsoid& e)
        : m_meridian(e), m_semiMajor(e.semiMajor), m_e2(e.eccentricitySquared()) {}
    Point forward(double lambda, double phi) const {
        return {parallel(phi) * lambda, m_meridian.at(phi)};
    }
    Point inverse(double x, double y) const {
        if (!(std::abs(y) <= m_meridian.toPole() * (1 + 1e-12))) return kNowhere;
        const double phi = m_meridian.latitude(y), radius = parallel(phi);
        if (std::abs(x) > radius * kPi * (1 + 1e-9) + 1e-6) return kNowhere;
        return {radius > 1e-6 ? x / radius : 0, phi};
    }

private:
    double parallel(double phi) const {
        return parallelRadius(m_semiMajor, m_e2, Direction::of(phi));
    }
    MeridianDistance m_meridian;
    double m_semiMajor, m_e2;
};

/// Bonne (EPSG 9827; 9828 with axes turned); Snyder, pp. 138-140.
class BonneKernel {
public:
    BonneKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_meridian(e), m_semiMajor(e.semiMajor), m_e2(e.eccentricitySquared()) {
        const double phi = radians(p.standardParallel1);
        m_centre = parallel(phi) / std::sin(phi);
        m_apex = m_centre + m_meridian.at(phi);
    }
    Point forward(double lambda, double phi) const {
        const double r = m_apex - m_meridian.at(phi);
        if (std::abs(r) < 1e-9) return {0, m_centre};
        const Direction theta = Direction::of(parallel(phi) * lambda / r);
        return {r * theta.sine, m_centre - r * theta.cosine};
    }
    Point inverse(double x, double y) const {
        const double sign = m_centre < 0 ? -1 : 1;
        const double r = sign * std::hypot(x, m_centre - y), distance = m_apex - r;
        if (!(std::abs(distance) <= m_meridian.toPole() * (1 + 1e-12))) return kNowhere;
        const double phi = m_meridian.latitude(distance), radius = parallel(phi);
        const double arc = r * std::atan2(sign * x, sign * (m_centre - y));
        if (std::abs(arc) > radius * kPi * (1 + 1e-9) + 1e-6) return kNowhere;
        return {radius > 1e-6 ? arc / radius : 0, phi};
    }

private:
    double parallel(double phi) const {
        return parallelRadius(m_semiMajor, m_e2, Direction::of(phi));
    }
    MeridianDistance m_meridian;
    double m_semiMajor, m_e2, m_centre = 0, m_apex = 0;
};

/// American polyconic (EPSG 9818); Snyder, pp. 124-133. Within 90 degrees of the central meridian.
class AmericanPolyconicKernel {
public:
    AmericanPolyconicKernel(const ProjectionParameters& p, const Ellipsoid& e)
        : m_meridian(e), m_semiMajor(e.semiMajor), m_e2(e.eccentricitySquared()),
          m_origin(m_meridian.at(radians(p.latitudeOfOrigin))) {}
    Point forward(double lambda, double phi) const {
        if (!(std::abs(lambda) <= kPi / 2)) return kNowhere;
        return at(lambda, phi);
    }
    Point inverse(double x, double y) const {
        const double foot = (y + m_origin) / m_semiMajor;
        if (!(std::abs(foot) < 3) || !(std::abs(x) < 2 * m_semiMajor)) return kNowhere;
        const double phi = std::clamp(foot, -1.5, 1.5);
        const Point guess{std::clamp(x / m_semiMajor / std::cos(phi), -1.4, 1.4), phi};
        const Point found =
            solvedInverse([this](double l, double b) { return at(l, b); }, {x, y}, guess);
        return std::abs(found.x) <= kPi / 2 + 1e-9 ? found : kNowhere;
    }

private:
    Point at(double lambda, double phi) const {
        const Direction lat = Direction::of(phi);
        const double prime = m_semiMajor * primeVertical(lat.sine, m_e2);
        // cot(phi) (1 - cos E) and its like without dividing by a small sine.
        const double turn = lambda * lat.sine, half = std::sin(turn / 2);
        const double sinc = std::abs(turn) < 1e-8 ? 1 : std::sin(turn) / turn;
        const double halfSinc = std::abs(turn) < 1e-8 ? 0.5 : half / turn;
        return {prime * lat.cosine * lambda * sinc,
                m_meridian.at(phi) - m_origin + prime * lat.cosine * 2 * half * halfSinc * lambda};
    }
    MeridianDistance m_meridian;
    double m_semiMajor, m_e2, m_origin;
};

}  // namespace ledge::crs
