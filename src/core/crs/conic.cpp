#include "core/crs/conic.h"

#include <cmath>

namespace ledge::crs {

LambertConformalConic::LambertConformalConic(Method variant, const ProjectionParameters& p,
                                             const Ellipsoid& e)
    : m_parameters(p), m_eccentricity(e.eccentricity()) {
    const double e2 = e.eccentricitySquared();
    const auto psi = [&](double degrees) {
        return std::asinh(conformalTan(std::tan(degrees * kRadiansPerDegree), m_eccentricity));
    };
    const auto parallelRadius = [&](double degrees) {
        const double lat = degrees * kRadiansPerDegree, s = std::sin(lat);
        return std::cos(lat) / std::sqrt(1 - e2 * s * s);
    };
    const bool isSingle = variant == Method::LambertConformalConic1SP;
    const double first = isSingle ? p.latitudeOfOrigin : p.standardParallel1;
    const double second = isSingle ? p.latitudeOfOrigin : p.standardParallel2;
    m_n =
        std::abs(first - second) < 1e-10
            ? std::sin(first * kRadiansPerDegree)
            : std::log(parallelRadius(first) / parallelRadius(second)) / (psi(second) - psi(first));
    const double scale = isSingle ? p.scaleFactor : 1.0;
    m_factor = e.semiMajor * scale * parallelRadius(first) / m_n * std::exp(m_n * psi(first));
    const bool originIsPole = std::abs(p.latitudeOfOrigin) >= 90;
    m_originRadius = originIsPole ? 0 : m_factor * std::exp(-m_n * psi(p.latitudeOfOrigin));
}

void LambertConformalConic::forward(std::span<Point> points) const {
    for (Point& point : points) {
        const bool isPole = std::abs(point.y) == 90;
        const bool isNearPole = isPole && (point.y > 0) == (m_n > 0);
        if (!(std::abs(point.y) <= 90) || !std::isfinite(point.x) || (isPole && !isNearPole)) {
            point = kNowhere;
            continue;
        }
        double radius = 0;
        if (!isPole) {
            const double tau = conformalTan(std::tan(point.y * kRadiansPerDegree), m_eccentricity);
            radius = m_factor * std::exp(-m_n * std::asinh(tau));
        }
        const double theta =
            m_n * longitudeDifference(point.x, m_parameters.centralMeridian) * kRadiansPerDegree;
        point = {radius * std::sin(theta) + m_parameters.falseEasting,
                 m_originRadius - radius * std::cos(theta) + m_parameters.falseNorthing};
    }
}

void LambertConformalConic::inverse(std::span<Point> points) const {
    const double sign = m_n < 0 ? -1 : 1;
    for (Point& point : points) {
        const double x = sign * (point.x - m_parameters.falseEasting);
        const double y = sign * (m_originRadius - (point.y - m_parameters.falseNorthing));
        const double radius = std::hypot(x, y);
        const double theta = std::atan2(x, y);
        const double lon = m_parameters.centralMeridian + theta / m_n / kRadiansPerDegree;
        if (!std::isfinite(radius) || std::abs(theta) > std::abs(m_n) * kPi * (1 + 1e-12)) {
            point = kNowhere;  // in the gap of the unrolled cone
            continue;
        }
        double lat = 90 * sign;
        if (radius > 0) {
            const double psi = -std::log(radius / std::abs(m_factor)) / m_n;
            if (std::abs(psi) > 30) {
                point = kNowhere;
                continue;
            }
            lat = std::atan(geodeticTan(std::sinh(psi), m_eccentricity)) / kRadiansPerDegree;
        }
        point = {lon > 180 ? lon - 360 : (lon < -180 ? lon + 360 : lon), lat};
    }
}

}  // namespace ledge::crs
