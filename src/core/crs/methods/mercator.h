#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

/// Ellipsoidal Mercator, variants A (EPSG 9804) and B (9805); IOGP Guidance Note 7-2, 3.2.1. The
/// poles are outside the domain.
template <bool kHasParallel>
class MercatorKernel {
public:
    MercatorKernel(const ProjectionParameters& p, const Ellipsoid& e) : m_conformal(e) {
        const double phi = radians(p.standardParallel1), e2 = e.eccentricitySquared();
        m_radius = e.semiMajor * (kHasParallel ? std::cos(phi) * primeVertical(std::sin(phi), e2)
                                               : p.scaleFactor);
    }
    Point forward(double lambda, double phi) const {
        if (isPole(phi)) return kNowhere;
        return {m_radius * lambda, m_radius * m_conformal.isometric(phi)};
    }
    Point inverse(double x, double y) const {
        if (!(std::abs(x) <= m_radius * kPi * (1 + 1e-12)) || !(std::abs(y) < 40 * m_radius))
            return kNowhere;
        return {x / m_radius, m_conformal.fromExpMinusIsometric(std::exp(-y / m_radius))};
    }

private:
    ConformalLatitude m_conformal;
    double m_radius;
};

/// Spherical Mercator formulas on the ellipsoid's coordinates (EPSG 1024). Not conformal.
/// Beyond 89.99 degrees of latitude the result is NaN.
class WebMercatorKernel {
public:
    WebMercatorKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const {
        if (std::abs(phi) > radians(89.99)) return kNowhere;
        return {m_radius * lambda, m_radius * std::asinh(std::tan(phi))};
    }
    Point inverse(double x, double y) const {
        if (!(std::abs(x) <= m_radius * kPi * (1 + 1e-12)) || !(std::abs(y) < 10 * m_radius))
            return kNowhere;
        return {x / m_radius, std::atan(std::sinh(y / m_radius))};
    }

private:
    double m_radius;
};

/// Miller's cylindrical projection of the sphere of the semi-major axis (Snyder, p. 88).
class MillerKernel {
public:
    MillerKernel(const ProjectionParameters&, const Ellipsoid& e) : m_radius(e.semiMajor) {}
    Point forward(double lambda, double phi) const {
        return {m_radius * lambda, m_radius * 1.25 * std::asinh(std::tan(0.8 * phi))};
    }
    Point inverse(double x, double y) const {
        const double phi = 1.25 * std::atan(std::sinh(0.8 * y / m_radius));
        if (!(std::abs(phi) <= kPi / 2 + 1e-12) || !(std::abs(x) <= m_radius * kPi * (1 + 1e-12)))
            return kNowhere;
        return {x / m_radius, phi};
    }

private:
    double m_radius;
};

/// Gall's stereographic cylinder, true at 45 degrees (Snyder and Voxland, 1989, p. 19).
class GallStereographicKernel {
public:
    GallStereographicKernel(const ProjectionParameters&, const Ellipsoid& e)
        : m_across(e.semiMajor / std::sqrt(2.0)), m_up(e.semiMajor * (1 + std::sqrt(0.5))) {}
    Point forward(double lambda, double phi) const {
        return {m_across * lambda, m_up * std::tan(phi / 2)};
    }
    Point inverse(double x, double y) const {
        if (!(std::abs(y) <= m_up * (1 + 1e-12)) || !(std::abs(x) <= m_across * kPi * (1 + 1e-12)))
            return kNowhere;
        return {x / m_across, 2 * std::atan(y / m_up)};
    }

private:
    double m_across, m_up;
};

}  // namespace ledge::crs
