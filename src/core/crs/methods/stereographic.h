#pragma once
#include "core/crs/methods/kernel.h"

namespace ledge::crs {

enum class PolarVariant { A, B, C };

/// Polar stereographic: scale factor at the pole (EPSG 9810), true-scale parallel (9829), false
/// origin on that parallel (9830); IOGP Guidance Note 7-2, 3.3.2. The other pole is outside.
template <PolarVariant kVariant>
class PolarStereographicKernel {
public:
    PolarStereographicKernel(const ProjectionParameters& p, const Ellipsoid& e) : m_conformal(e) {
        const double given = kVariant == PolarVariant::A ? p.latitudeOfOrigin : p.standardParallel1;
        m_sign = given < 0 ? -1 : 1;
        const double ecc = e.eccentricity();
        const double polar =
            2 * e.semiMajor / std::sqrt(std::pow(1 + ecc, 1 + ecc) * std::pow(1 - ecc, 1 - ecc));
        const double phi = std::abs(radians(given));
        m_factor = polar * p.scaleFactor;
        if (kVariant != PolarVariant::A && !isPole(phi)) {
            const double m = std::cos(phi) * primeVertical(std::sin(phi), e.eccentricitySquared());
            const double t = m_conformal.expMinusIsometric(phi);
            m_factor = e.semiMajor * m / t;
            if (kVariant == PolarVariant::C) m_originRadius = e.semiMajor * m;
        }
    }
    Point forward(double lambda, double phi) const {
        if (isPole(phi) && (phi > 0) != (m_sign > 0)) return kNowhere;
        const double r = isPole(phi) ? 0 : m_factor * m_conformal.expMinusIsometric(m_sign * phi);
        const Direction theta = Direction::of(lambda);
        return {r * theta.sine, m_sign * (m_originRadius - r * theta.cosine)};
    }
    Point inverse(double x, double y) const {
        const double down = m_originRadius - m_sign * y, r = std::hypot(x, down);
        if (!(r < 1e6 * m_factor)) return kNowhere;
        if (r == 0) return {0, m_sign * kPi / 2};
        return {std::atan2(x, down), m_sign * m_conformal.fromExpMinusIsometric(r / m_factor)};
    }

private:
    ConformalLatitude m_conformal;
    double m_sign = 1, m_factor = 0, m_originRadius = 0;
};

/// Oblique stereographic by way of a conformal sphere (EPSG 9809); IOGP Guidance Note 7-2, 3.3.1.
/// The antipode of the origin is outside.
class ObliqueStereographicKernel {
public:
    ObliqueStereographicKernel(const ProjectionParameters& p, const Ellipsoid& e) : m_conformal(e) {
        const double phi = radians(p.latitudeOfOrigin), s = std::sin(phi), c = std::cos(phi);
        const double e2 = e.eccentricitySquared();
        const double prime = e.semiMajor * primeVertical(s, e2);
        const double meridian = prime * (1 - e2) / (1 - e2 * s * s);
        m_n = std::sqrt(1 + e2 * c * c * c * c / (1 - e2));
        const double psi = m_conformal.isometric(phi);
        const double w1 = std::exp(2 * m_n * psi), sine = (w1 - 1) / (w1 + 1);
        m_shift = 0.5 * std::log((m_n + s) * (1 - sine) / ((m_n - s) * (1 + sine)));
        m_origin = onSphere(psi);
        m_twice = 2 * p.scaleFactor * std::sqrt(prime * meridian);
    }
    Point forward(double lambda, double phi) const {
        const Direction lat =
            isPole(phi) ? Direction{phi > 0 ? 1.0 : -1.0, 0} : onSphere(m_conformal.isometric(phi));
        const Direction lon = Direction::of(m_n * lambda);
        const double up = lat.sine * m_origin.cosine - lat.cosine * m_origin.sine * lon.cosine;
        const double b = 1 + lat.sine * m_origin.sine + lat.cosine * m_origin.cosine * lon.cosine;
        if (!(b > 1e-9)) return kNowhere;
        return {m_twice * lat.cosine * lon.sine / b, m_twice * up / b};
    }
    Point inverse(double x, double y) const {
        const double u = x / m_twice, v = y / m_twice, q = u * u + v * v;
        if (!(q < 1e8)) return kNowhere;
        const double scale = 2 / (1 + q), cosine = (1 - q) / (1 + q);
        const double sine = cosine * m_origin.sine + scale * v * m_origin.cosine;
        const double east = scale * u, north = cosine * m_origin.cosine - scale * v * m_origin.sine;
        const double side = std::hypot(east, north);
        if (side < 1e-15) return {0, std::copysign(kPi / 2, sine)};
        const double psi = (std::asinh(sine / side) - m_shift) / m_n;
        return {std::atan2(east, north) / m_n, m_conformal.fromExpMinusIsometric(std::exp(-psi))};
    }

private:
    Direction onSphere(double psi) const {
        const double turned = m_n * psi + m_shift;
        return {std::tanh(turned), 1 / std::cosh(turned)};
    }
    ConformalLatitude m_conformal;
    double m_n = 1, m_shift = 0, m_twice = 0;
    Direction m_origin;
};

}  // namespace ledge::crs
