#include "core/crs/ellipsoid.h"

#include <cmath>

namespace ledge::crs {

Point metresPerDegree(const Ellipsoid& ellipsoid, double latitudeDegrees) {
    const double e2 = ellipsoid.eccentricitySquared();
    const double lat = latitudeDegrees * kRadiansPerDegree;
    const double w2 = 1 - e2 * std::sin(lat) * std::sin(lat);
    const double prime = ellipsoid.semiMajor / std::sqrt(w2);
    const double meridian = prime * (1 - e2) / w2;
    return {prime * std::cos(lat) * kRadiansPerDegree, meridian * kRadiansPerDegree};
}

double conformalTan(double tau, double e) {
    const double root = std::hypot(1.0, tau);
    const double sigma = std::sinh(e * std::atanh(e * tau / root));
    return std::hypot(1.0, sigma) * tau - sigma * root;
}

double geodeticTan(double target, double e) {
    const double oneMinus = (1 - e) * (1 + e);
    double tau = std::abs(target) > 70 ? target * std::exp(e * std::atanh(e)) : target / oneMinus;
    for (int i = 0; i < 6; ++i) {
        const double now = conformalTan(tau, e);
        const double step = (target - now) * (1 + oneMinus * tau * tau) /
                            (oneMinus * std::hypot(1.0, tau) * std::hypot(1.0, now));
        tau += step;
        if (!(std::abs(step) >= 1e-12 * std::max(1.0, std::abs(tau)))) break;
    }
    return tau;
}

MeridianArc::MeridianArc(const Ellipsoid& ellipsoid) {
    // m'(lat) = a (1 - e2) (1 - e2 sin^2 lat)^(-3/2) is even with period pi; the trapezoid rule
    // over a period gives its cosine coefficients to rounding, because the function is analytic.
    constexpr int kSamples = 64;
    const long double pi = 3.14159265358979323846264338327950288L;
    const long double f = ellipsoid.flattening();
    const long double e2 = f * (2 - f);
    std::array<long double, kOrder + 1> cosines{};
    for (int i = 0; i < kSamples; ++i) {
        const long double lat = pi * i / kSamples;
        const long double s = std::sin(lat);
        const long double value = std::pow(1 - e2 * s * s, -1.5L);
        for (int k = 0; k <= kOrder; ++k)
            cosines[static_cast<std::size_t>(k)] +=
                value * std::cos(2 * k * lat) * (k == 0 ? 1.0L : 2.0L) / kSamples;
    }
    radius = static_cast<double>(ellipsoid.semiMajor * (1 - e2) * cosines[0]);
    for (std::size_t k = 1; k <= kOrder; ++k)
        sines[k] = cosines[k] / (2 * static_cast<long double>(k) * cosines[0]);
}

long double MeridianArc::rectifying(long double latitude) const {
    long double sum = latitude;
    for (int k = kOrder; k >= 1; --k)
        sum += sines[static_cast<std::size_t>(k)] * std::sin(2 * k * latitude);
    return sum;
}

Geocentric toGeocentric(const Ellipsoid& e, double lonDegrees, double latDegrees, double height) {
    const double e2 = e.eccentricitySquared();
    const double lon = lonDegrees * kRadiansPerDegree, lat = latDegrees * kRadiansPerDegree;
    const double n = e.semiMajor / std::sqrt(1 - e2 * std::sin(lat) * std::sin(lat));
    return {(n + height) * std::cos(lat) * std::cos(lon),
            (n + height) * std::cos(lat) * std::sin(lon), (n * (1 - e2) + height) * std::sin(lat)};
}

GeodeticPosition fromGeocentric(const Ellipsoid& e, Geocentric p) {
    const double a = e.semiMajor, e2 = e.eccentricitySquared();
    const double radial = std::hypot(p.x, p.y);
    double lat = std::atan2(p.z, radial * (1 - e2));
    for (int i = 0; i < 8; ++i) {
        const double s = std::sin(lat);
        const double n = a / std::sqrt(1 - e2 * s * s);
        const double next = std::atan2(p.z + e2 * n * s, radial);
        const double step = std::abs(next - lat);
        lat = next;
        if (step < 1e-16) break;
    }
    const double s = std::sin(lat), c = std::cos(lat);
    const double n = a / std::sqrt(1 - e2 * s * s);
    const double height = radial * c + p.z * s - a * a / n;
    return {std::atan2(p.y, p.x) / kRadiansPerDegree, lat / kRadiansPerDegree, height};
}

}  // namespace ledge::crs
