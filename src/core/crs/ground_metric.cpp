#include "core/crs/ground_metric.h"

#include <cmath>

#include "core/crs/latitudes.h"
#include "core/crs/transformation.h"

namespace ledge::crs {
namespace {
struct Vector {
    double x = 0, y = 0, z = 0;
    double dot(const Vector& o) const { return x * o.x + y * o.y + z * o.z; }
};

Vector between(const Geocentric& a, const Geocentric& b, double scale) {
    return {(b.x - a.x) * scale, (b.y - a.y) * scale, (b.z - a.z) * scale};
}

GroundMetric metricOf(Point lonLat, const Vector& x, const Vector& y, bool isSouthward) {
    const Direction lon = Direction::of(lonLat.x * kRadiansPerDegree);
    const Direction lat = Direction::of(lonLat.y * kRadiansPerDegree);
    const Vector east{-lon.sine, lon.cosine, 0};
    const Vector north{-lat.sine * lon.cosine, -lat.sine * lon.sine, lat.cosine};
    GroundMetric out{x.dot(x), x.dot(y), y.dot(y), 0, 1};
    const double sign = isSouthward ? -1 : 1, e = sign * y.dot(east), n = sign * y.dot(north);
    const double length = std::hypot(e, n);
    if (length > 0) out.northSine = e / length, out.northCosine = n / length;
    return out;
}
}  // namespace

bool GroundMetric::isFinite() const {
    return std::isfinite(xx + xy + yy + northSine + northCosine) && area() > 0;
}

double GroundMetric::area() const { return std::sqrt(std::max(0.0, xx * yy - xy * xy)); }

std::vector<GroundMetric> groundMetrics(const CrsPtr& crs, std::span<const Point> at) {
    if (!crs) return std::vector<GroundMetric>(at.size());
    std::vector<GroundMetric> out;
    out.reserve(at.size());
    if (crs->isGeographic()) {
        for (const Point p : at) {
            const Point metres = metresPerDegree(crs->ellipsoid, p.y);
            out.push_back({metres.x * metres.x, 0, metres.y * metres.y, 0, 1});
        }
        return out;
    }
    auto base = geographicBase(*crs);
    base.primeMeridian = 0;
    base.code = 0;
    const auto way = Transformation::along(crs, std::make_shared<Crs>(std::move(base)), {});
    constexpr double kFar = std::numeric_limits<double>::quiet_NaN();
    if (!way) return std::vector<GroundMetric>(at.size(), {kFar, kFar, kFar, kFar, kFar});
    // Some metres to either side: rounding and curvature both stay below 1e-8 of them.
    const double step = 10 / crs->unit.size;
    std::vector<Point> points;
    points.reserve(at.size() * 5);
    for (const Point p : at)
        points.insert(points.end(), {p, p - Point{step, 0}, p + Point{step, 0}, p - Point{0, step},
                                     p + Point{0, step}});
    way->forward(points);
    const auto geocentric = [&](Point p) { return toGeocentric(crs->ellipsoid, p.x, p.y, 0); };
    for (std::size_t i = 0; i < points.size(); i += 5) {
        // At the edge of the domain one side may be all there is.
        const auto along = [&](std::size_t low, std::size_t high) {
            const Point a = points[i + low].isFinite() ? points[i + low] : points[i];
            const Point b = points[i + high].isFinite() ? points[i + high] : points[i];
            const bool isOneSided = !points[i + low].isFinite() || !points[i + high].isFinite();
            return between(geocentric(a), geocentric(b), (isOneSided ? 1 : 0.5) / step);
        };
        out.push_back(metricOf(points[i], along(1, 2), along(3, 4), crs->isSouthward));
    }
    return out;
}

struct ZoneArea::Parts {
    AuthalicLatitude authalic;
    double sine(double latitude) const {
        return authalic.fromGeodetic(Direction::of(latitude * kRadiansPerDegree)).sine;
    }
};

ZoneArea::ZoneArea(const Ellipsoid& ellipsoid)
    : m_parts(std::make_unique<Parts>(Parts{AuthalicLatitude(ellipsoid)})) {}
ZoneArea::~ZoneArea() = default;

double ZoneArea::between(double south, double north, double degrees) const {
    const double radius = m_parts->authalic.radius();
    return radius * radius * degrees * kRadiansPerDegree *
           std::abs(m_parts->sine(north) - m_parts->sine(south));
}

}  // namespace ledge::crs
