#include "core/crs/latitudes.h"

#include <vector>

namespace ledge::crs {
namespace {
constexpr long double kPiLong = 3.14159265358979323846264338327950288L;

// Latitude at which an increasing function near the identity takes `value`.
long double solved(const LatitudeFunction& function, long double value) {
    long double lat = value;
    for (int i = 0; i < 80; ++i) {
        const long double step = value - function(lat);
        lat += step;
        if (std::abs(step) < 1e-19L) break;
    }
    return lat;
}

long double eccentricity(const Ellipsoid& e) {
    const long double f = e.inverseFlattening == 0 ? 0 : 1 / (long double)e.inverseFlattening;
    return std::sqrt(f * (2 - f));
}

long double authalicQ(long double e, long double s) {
    return (1 - e * e) * (s / (1 - e * e * s * s) + (e > 0 ? std::atanh(e * s) / e : s));
}

long double geodetic(long double phi) { return phi; }
}  // namespace

LatitudeSeries seriesBetween(const LatitudeFunction& from, const LatitudeFunction& to) {
    // The farther the middle latitude is moved, the more terms count.
    const long double probe = to(solved(from, kPiLong / 4)) - kPiLong / 4;
    const int samples = std::abs(probe) < 0.006L ? 32 : 96;
    std::vector<long double> gap(static_cast<std::size_t>(samples));
    for (int i = 1; i < samples; ++i) {
        const long double x = kPiLong / 2 * i / samples;
        gap[static_cast<std::size_t>(i)] = to(solved(from, x)) - x;
    }
    LatitudeSeries out;
    for (int j = 1; j <= std::min(samples / 2, LatitudeSeries::kMost); ++j) {
        long double sum = 0;
        for (int i = 1; i < samples; ++i)
            sum += gap[static_cast<std::size_t>(i)] *
                   std::sin(kPiLong * ((i * j) % (2 * samples)) / samples);
        const auto c = static_cast<double>(2 * sum / samples);
        if (std::abs(c) < 2e-18) break;
        out.c[static_cast<std::size_t>(j)] = c;
        out.order = j;
    }
    return out;
}

long double conformalLatitude(const Ellipsoid& ellipsoid, long double phi) {
    const long double e = eccentricity(ellipsoid), tau = std::tan(phi);
    const long double root = std::sqrt(1 + tau * tau);
    const long double sigma = std::sinh(e * std::atanh(e * tau / root));
    return std::atan(std::sqrt(1 + sigma * sigma) * tau - sigma * root);
}

long double authalicLatitude(const Ellipsoid& ellipsoid, long double phi) {
    const long double e = eccentricity(ellipsoid);
    return std::asin(authalicQ(e, std::sin(phi)) / authalicQ(e, 1));
}

ConformalLatitude::ConformalLatitude(const Ellipsoid& e) {
    if (e.inverseFlattening == 0) return;
    const auto chi = [&e](long double phi) { return conformalLatitude(e, phi); };
    m_forward = seriesBetween(geodetic, chi);
    m_inverse = seriesBetween(chi, geodetic);
}

AuthalicLatitude::AuthalicLatitude(const Ellipsoid& e)
    : m_qPole(static_cast<double>(authalicQ(eccentricity(e), 1))),
      m_radius(e.semiMajor * std::sqrt(m_qPole / 2)) {
    if (e.inverseFlattening == 0) return;
    const auto beta = [&e](long double phi) { return authalicLatitude(e, phi); };
    m_forward = seriesBetween(geodetic, beta);
    m_inverse = seriesBetween(beta, geodetic);
}

MeridianDistance::MeridianDistance(const Ellipsoid& e) : m_radius(e.semiMajor) {
    if (e.inverseFlattening == 0) return;
    const MeridianArc arc(e);
    m_radius = arc.radius;
    const auto mu = [&arc](long double phi) { return arc.rectifying(phi); };
    m_forward = seriesBetween(geodetic, mu);
    m_inverse = seriesBetween(mu, geodetic);
}

}  // namespace ledge::crs
