#include "core/crs/transverse_mercator.h"

#include <cmath>
#include <complex>

namespace ledge::crs {
namespace {
constexpr int kSamples = 48;
constexpr long double kPiLong = 3.14159265358979323846264338327950288L;

long double conformalLatitude(long double lat, long double e) {
    const long double tau = std::tan(lat);
    const long double root = std::sqrt(1 + tau * tau);
    const long double sigma = std::sinh(e * std::atanh(e * tau / root));
    return std::atan(std::sqrt(1 + sigma * sigma) * tau - sigma * root);
}

// Latitude at which an increasing function that stays within 1 % of the identity takes `value`.
template <typename F>
long double solve(F function, long double value) {
    long double lat = value;
    for (int i = 0; i < 60; ++i) {
        const long double step = value - function(lat);
        lat += step;
        if (std::abs(step) < 1e-19L) break;
    }
    return lat;
}

// Sum of c[j] sin(2 j z) for complex z by Clenshaw's recurrence.
template <std::size_t N>
std::complex<double> sineSum(const std::array<double, N>& c, double xi, double eta) {
    const double s = std::sin(2 * xi), co = std::cos(2 * xi);
    const double sh = std::sinh(2 * eta), ch = std::cosh(2 * eta);
    const std::complex<double> twice(2 * co * ch, -2 * s * sh);
    std::complex<double> b1 = 0, b2 = 0;
    for (std::size_t j = N - 1; j >= 1; --j) {
        // Written out, because complex products otherwise check for infinities.
        const std::complex<double> next(
            twice.real() * b1.real() - twice.imag() * b1.imag() - b2.real() + c[j],
            twice.real() * b1.imag() + twice.imag() * b1.real() - b2.imag());
        b2 = b1;
        b1 = next;
    }
    const std::complex<double> sine(s * ch, co * sh);
    return {sine.real() * b1.real() - sine.imag() * b1.imag(),
            sine.real() * b1.imag() + sine.imag() * b1.real()};
}
}  // namespace

TransverseMercator::TransverseMercator(const ProjectionParameters& p, const Ellipsoid& e)
    : m_parameters(p), m_eccentricity(e.eccentricity()) {
    const MeridianArc arc(e);
    const long double ecc = std::sqrt(static_cast<long double>(e.eccentricitySquared()));
    const auto chi = [&](long double lat) { return conformalLatitude(lat, ecc); };
    const auto mu = [&](long double lat) { return arc.rectifying(lat); };
    std::array<long double, kOrder + 1> alpha{}, beta{};
    for (int i = 1; i < kSamples; ++i) {
        const long double x = kPiLong / 2 * i / kSamples;
        const long double forwardGap = mu(solve(chi, x)) - x;
        const long double inverseGap = x - chi(solve(mu, x));
        for (int j = 1; j <= kOrder; ++j) {
            const long double weight = 2.0L / kSamples * std::sin(2 * j * x);
            alpha[static_cast<std::size_t>(j)] += forwardGap * weight;
            beta[static_cast<std::size_t>(j)] += inverseGap * weight;
        }
    }
    for (std::size_t j = 1; j <= kOrder; ++j) {
        m_alpha[j] = static_cast<double>(alpha[j]);
        m_beta[j] = static_cast<double>(beta[j]);
    }
    m_radius = arc.radius * p.scaleFactor;
    m_originNorthing = forwardMetres(0, p.latitudeOfOrigin * kRadiansPerDegree).y;
}

Point TransverseMercator::forwardMetres(double lon, double lat) const {
    const double tau = conformalTan(std::tan(lat), m_eccentricity);
    const double c = std::cos(lon), s = std::sin(lon);
    const double xi = std::atan2(tau, c), eta = std::asinh(s / std::hypot(tau, c));
    const auto shift = sineSum(m_alpha, xi, eta);
    return {m_radius * (eta + shift.imag()), m_radius * (xi + shift.real())};
}

void TransverseMercator::forward(std::span<Point> points) const {
    for (Point& point : points) {
        const double lon = longitudeDifference(point.x, m_parameters.centralMeridian);
        if (!(std::abs(lon) <= 80) || !(std::abs(point.y) <= 90)) {
            point = kNowhere;
            continue;
        }
        const Point metres = forwardMetres(lon * kRadiansPerDegree, point.y * kRadiansPerDegree);
        point = {metres.x + m_parameters.falseEasting,
                 metres.y - m_originNorthing + m_parameters.falseNorthing};
    }
}

void TransverseMercator::inverse(std::span<Point> points) const {
    for (Point& point : points) {
        const double xi0 = (point.y - m_parameters.falseNorthing + m_originNorthing) / m_radius;
        const double eta0 = (point.x - m_parameters.falseEasting) / m_radius;
        if (!(std::abs(eta0) < 2.5) || !(std::abs(xi0) <= kPi)) {
            point = kNowhere;
            continue;
        }
        const auto shift = sineSum(m_beta, xi0, eta0);
        const double xi = xi0 - shift.real(), eta = eta0 - shift.imag();
        const double c = std::cos(xi), sh = std::sinh(eta);
        const double tau = geodeticTan(std::sin(xi) / std::hypot(sh, c), m_eccentricity);
        const double lon = m_parameters.centralMeridian + std::atan2(sh, c) / kRadiansPerDegree;
        point = {lon > 180 ? lon - 360 : (lon < -180 ? lon + 360 : lon),
                 std::atan(tau) / kRadiansPerDegree};
    }
}

}  // namespace ledge::crs
