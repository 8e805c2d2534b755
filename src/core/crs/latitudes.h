#pragma once
#include <array>
#include <cmath>
#include <functional>

#include "core/crs/ellipsoid.h"

namespace ledge::crs {

/// Sine and cosine of one angle.
struct Direction {
    double sine = 0, cosine = 1;

    static Direction of(double radians) { return {std::sin(radians), std::cos(radians)}; }
    /// The same angle turned on by `d` radians, |d| small: no trigonometry below 0.03.
    Direction turned(double d) const {
        double s, c;
        if (std::abs(d) < 0.03) {
            const double q = d * d;
            s = d * (1 - q / 6 * (1 - q / 20 * (1 - q / 42)));
            c = 1 - q / 2 * (1 - q / 12 * (1 - q / 30 * (1 - q / 56)));
        } else {
            s = std::sin(d), c = std::cos(d);
        }
        return {sine * c + cosine * s, cosine * c - sine * s};
    }
};

/// The small odd difference between two latitudes as a sum of c[j] sin(2 j x), j = 1 to order.
struct LatitudeSeries {
    static constexpr int kMost = 24;
    std::array<double, kMost + 1> c{};
    int order = 0;

    /// By Clenshaw's recurrence.
    double at(Direction x) const {
        const double twice = 2 * (x.cosine - x.sine) * (x.cosine + x.sine);
        double b1 = 0, b2 = 0;
        for (int j = order; j >= 1; --j) {
            const double next = c[static_cast<std::size_t>(j)] + twice * b1 - b2;
            b2 = b1;
            b1 = next;
        }
        return 2 * x.sine * x.cosine * b1;
    }
};

/// A function of a latitude in radians that stays near the identity.
using LatitudeFunction = std::function<long double(long double)>;

/// Coefficients of to(phi) - from(phi) over from(phi): a discrete sine transform of samples in
/// extended precision, so that any ellipsoid has its own series to the precision of a double.
LatitudeSeries seriesBetween(const LatitudeFunction& from, const LatitudeFunction& to);

/// Conformal latitude (Snyder, USGS Professional Paper 1395, eq. 3-1) both ways, and the isometric
/// latitude psi that Mercator's ordinate is.
class ConformalLatitude {
public:
    explicit ConformalLatitude(const Ellipsoid& ellipsoid);

    /// Direction of the conformal latitude from that of the geodetic one.
    Direction fromGeodetic(Direction phi) const { return phi.turned(m_forward.at(phi)); }
    /// Geodetic latitude in radians of a conformal one whose direction is known too.
    double toGeodetic(double chi, Direction direction) const {
        return chi + m_inverse.at(direction);
    }
    /// exp(-psi), 0 at the north pole and infinite at the south pole.
    double expMinusIsometric(double phi) const {
        const Direction chi = fromGeodetic(Direction::of(phi));
        return chi.sine >= 0 ? chi.cosine / (1 + chi.sine) : (1 - chi.sine) / chi.cosine;
    }
    double isometric(double phi) const { return -std::log(expMinusIsometric(phi)); }
    /// Geodetic latitude from t = exp(-psi).
    double fromExpMinusIsometric(double t) const {
        if (t > 1e8) return -kPi / 2 + 2 / t;
        const double q = 1 + t * t;
        const Direction chi{(1 - t * t) / q, 2 * t / q};
        return toGeodetic(std::atan2(chi.sine, chi.cosine), chi);
    }

private:
    LatitudeSeries m_forward, m_inverse;
};

/// Authalic latitude beta (Snyder, eq. 3-11) both ways: sin beta = q / qPole.
class AuthalicLatitude {
public:
    explicit AuthalicLatitude(const Ellipsoid& ellipsoid);

    Direction fromGeodetic(Direction phi) const { return phi.turned(m_forward.at(phi)); }
    double toGeodetic(double beta, Direction direction) const {
        return beta + m_inverse.at(direction);
    }
    double fromSine(double sineBeta) const {
        const double cosine = std::sqrt(std::max(0.0, (1 - sineBeta) * (1 + sineBeta)));
        return toGeodetic(std::atan2(sineBeta, cosine), {sineBeta, cosine});
    }
    double qPole() const { return m_qPole; }
    /// Radius of the sphere of the ellipsoid's surface, metres.
    double radius() const { return m_radius; }

private:
    LatitudeSeries m_forward, m_inverse;
    double m_qPole, m_radius;
};

/// Distances along the meridian from the equator, metres, both ways.
class MeridianDistance {
public:
    explicit MeridianDistance(const Ellipsoid& ellipsoid);
    double at(double phi) const { return m_radius * (phi + m_forward.at(Direction::of(phi))); }
    double latitude(double metres) const {
        const double mu = metres / m_radius;
        return mu + m_inverse.at(Direction::of(mu));
    }
    double toPole() const { return m_radius * kPi / 2; }

private:
    double m_radius;
    LatitudeSeries m_forward, m_inverse;
};

/// Closed forms behind the series, in extended precision; also the tests' oracle.
long double conformalLatitude(const Ellipsoid& ellipsoid, long double phi);
long double authalicLatitude(const Ellipsoid& ellipsoid, long double phi);

/// Radius of curvature in the prime vertical over the semi-major axis.
inline double primeVertical(double sine, double eccentricitySquared) {
    return 1 / std::sqrt(1 - eccentricitySquared * sine * sine);
}

/// Radius of a parallel, metres.
inline double parallelRadius(double semiMajor, double eccentricitySquared, Direction latitude) {
    return semiMajor * latitude.cosine * primeVertical(latitude.sine, eccentricitySquared);
}

}  // namespace ledge::crs
