#include "core/crs/mercator.h"

#include <cmath>

namespace ledge::crs {
namespace {
constexpr double kHighestLatitude = 89.9999999;

double wrapped(double lon) { return lon > 180 ? lon - 360 : (lon < -180 ? lon + 360 : lon); }
}  // namespace

Mercator::Mercator(Method variant, const ProjectionParameters& p, const Ellipsoid& e)
    : m_parameters(p), m_eccentricity(e.eccentricity()) {
    double scale = p.scaleFactor;
    if (variant == Method::MercatorB) {
        const double lat = p.standardParallel1 * kRadiansPerDegree;
        const double s = std::sin(lat);
        scale = std::cos(lat) / std::sqrt(1 - e.eccentricitySquared() * s * s);
    }
    m_radius = e.semiMajor * scale;
}

void Mercator::forward(std::span<Point> points) const {
    for (Point& point : points) {
        if (!(std::abs(point.y) <= kHighestLatitude) || !std::isfinite(point.x)) {
            point = kNowhere;
            continue;
        }
        const double lon = longitudeDifference(point.x, m_parameters.centralMeridian);
        const double tau = conformalTan(std::tan(point.y * kRadiansPerDegree), m_eccentricity);
        point = {m_radius * lon * kRadiansPerDegree + m_parameters.falseEasting,
                 m_radius * std::asinh(tau) + m_parameters.falseNorthing};
    }
}

void Mercator::inverse(std::span<Point> points) const {
    for (Point& point : points) {
        const double lon = (point.x - m_parameters.falseEasting) / m_radius / kRadiansPerDegree;
        const double psi = (point.y - m_parameters.falseNorthing) / m_radius;
        if (!(std::abs(lon) <= 360) || !(std::abs(psi) <= 25)) {
            point = kNowhere;
            continue;
        }
        const double tau = geodeticTan(std::sinh(psi), m_eccentricity);
        point = {wrapped(lon + m_parameters.centralMeridian), std::atan(tau) / kRadiansPerDegree};
    }
}

WebMercator::WebMercator(const ProjectionParameters& p, const Ellipsoid& e)
    : m_parameters(p), m_radius(e.semiMajor) {}

void WebMercator::forward(std::span<Point> points) const {
    for (Point& point : points) {
        if (!(std::abs(point.y) <= kHighestLatitude) || !std::isfinite(point.x)) {
            point = kNowhere;
            continue;
        }
        const double lon = longitudeDifference(point.x, m_parameters.centralMeridian);
        point = {m_radius * lon * kRadiansPerDegree + m_parameters.falseEasting,
                 m_radius * std::asinh(std::tan(point.y * kRadiansPerDegree)) +
                     m_parameters.falseNorthing};
    }
}

void WebMercator::inverse(std::span<Point> points) const {
    for (Point& point : points) {
        const double lon = (point.x - m_parameters.falseEasting) / m_radius / kRadiansPerDegree;
        const double psi = (point.y - m_parameters.falseNorthing) / m_radius;
        if (!(std::abs(lon) <= 360) || !(std::abs(psi) <= 25)) {
            point = kNowhere;
            continue;
        }
        point = {wrapped(lon + m_parameters.centralMeridian),
                 std::atan(std::sinh(psi)) / kRadiansPerDegree};
    }
}

}  // namespace ledge::crs
