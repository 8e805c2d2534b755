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
    const double a = e.semiMajor, e2 = e.eccentricitySquared(), f1 = 1 - e.flattening();
    const double radial = std::sqrt(p.x * p.x + p.y * p.y);
    // Bowring's formula by the reduced latitude, repeated until it stands.
    double up = p.z, along = radial * f1;
    double y = 0, x = 1;
    for (int i = 0; i < 6; ++i) {
        const double norm = std::sqrt(up * up + along * along);
        const double sine = norm > 0 ? up / norm : 1, cosine = norm > 0 ? along / norm : 0;
        const double nextY = p.z + e2 / f1 * a * sine * sine * sine;
        const double nextX = radial - e2 * a * cosine * cosine * cosine;
        const bool stands =
            std::abs(nextY * x - nextX * y) < 1e-16 * (nextY * nextY + nextX * nextX);
        const double length = std::sqrt(nextY * nextY + nextX * nextX);
        y = nextY / length, x = nextX / length;
        if (stands && i > 0) break;
        up = f1 * nextY, along = nextX;
    }
    const double n = a / std::sqrt(1 - e2 * y * y);
    const double height = radial * x + p.z * y - a * a / n;
    return {std::atan2(p.y, p.x) / kRadiansPerDegree, std::atan2(y, x) / kRadiansPerDegree, height};
}

}  // namespace ledge::crs
