#include "core/crs/transformation.h"

#include <array>
#include <vector>

namespace ledge::crs {
namespace {
constexpr int kEdgeSteps = 20;

// Points over a box, edges included, close enough that the box of their images is a good bound.
std::vector<Point> spread(const Box& box) {
    std::vector<Point> points;
    for (int i = 0; i <= kEdgeSteps; ++i)
        for (int j = 0; j <= kEdgeSteps; ++j)
            points.push_back({box.xMin + box.width() * i / kEdgeSteps,
                              box.yMin + box.height() * j / kEdgeSteps});
    return points;
}

Box boxOf(std::span<const Point> points) {
    Box box;
    for (const Point p : points) box.add(p);
    return box;
}

void scale(std::span<Point> points, double factor) {
    if (factor == 1) return;
    for (Point& p : points) p = p * factor;
}

void turn(std::span<Point> points, double degrees) {
    if (degrees == 0) return;
    for (Point& p : points) p.x += degrees;
}
}  // namespace

Result<Transformation> Transformation::between(const CrsPtr& from, const CrsPtr& to) {
    Transformation out;
    if (!from || !to) {
        out.m_operation = "undeclared CRS: coordinates used as they are";
        return out;
    }
    if (isSame(from, to)) return out;
    auto source = makeProjection(from->method, from->parameters, from->ellipsoid);
    if (!source) return source.error();
    auto target = makeProjection(to->method, to->parameters, to->ellipsoid);
    if (!target) return target.error();
    out.m_from = std::make_shared<Side>(Side{from, *std::move(source)});
    out.m_to = std::make_shared<Side>(Side{to, *std::move(target)});
    const bool sameDatum =
        from->ellipsoid.hasShapeOf(to->ellipsoid) && from->toWgs84 == to->toWgs84;
    if (sameDatum) return out;
    if (!from->toWgs84 || !to->toWgs84) {
        out.m_operation = "ballpark: no operation known between these datums";
        return out;
    }
    // Two datums equal to WGS 84 differ by a hair in the ellipsoid only; latitudes are then copied,
    // as the null operation between them says.
    if (from->toWgs84->isNull() && to->toWgs84->isNull()) {
        out.m_operation = "null operation (datums agree within 1 m)";
        return out;
    }
    out.m_shiftsDatum = true;
    const auto rotates = [](const Helmert& h) {
        return h.rx != 0 || h.ry != 0 || h.rz != 0 || h.ppm != 0;
    };
    out.m_operation = rotates(*from->toWgs84) || rotates(*to->toWgs84)
                          ? "7-parameter (position vector), as the definition lists it"
                          : "geocentric translation, as the definition lists it";
    return out;
}

void Transformation::run(std::span<Point> points, const Side& from, const Side& to) const {
    const Crs &source = *from.crs, &target = *to.crs;
    if (source.isGeographic()) {
        turn(points, source.primeMeridian);
    } else {
        scale(points, source.unit.size);
        from.projection->inverse(points);
    }
    if (m_shiftsDatum) {
        for (Point& p : points) {
            const Geocentric there = target.toWgs84->inverse(
                source.toWgs84->forward(toGeocentric(source.ellipsoid, p.x, p.y, 0)));
            const GeodeticPosition g = fromGeocentric(target.ellipsoid, there);
            p = p.isFinite() ? Point{g.lon, g.lat} : kNowhere;
        }
    }
    if (target.isGeographic()) {
        turn(points, -target.primeMeridian);
        for (Point& p : points)
            if (!(std::abs(p.y) <= 90)) p = kNowhere;
    } else {
        to.projection->forward(points);
        scale(points, 1 / target.unit.size);
    }
}

void Transformation::forward(std::span<Point> points) const {
    if (!isIdentity()) run(points, *m_from, *m_to);
}
void Transformation::inverse(std::span<Point> points) const {
    if (!isIdentity()) run(points, *m_to, *m_from);
}
Point Transformation::forward(Point p) const {
    forward(std::span(&p, 1));
    return p;
}
Point Transformation::inverse(Point p) const {
    inverse(std::span(&p, 1));
    return p;
}
Box Transformation::forward(const Box& box) const {
    if (isIdentity() || box.isEmpty()) return box;
    auto points = spread(box);
    forward(points);
    return boxOf(points);
}
Box Transformation::inverse(const Box& box) const {
    if (isIdentity() || box.isEmpty()) return box;
    auto points = spread(box);
    inverse(points);
    return boxOf(points);
}

Point toLonLat(const CrsPtr& crs, Point at) {
    if (!crs) return kNowhere;
    const auto wgs84 = crsFromCode(4326);
    const auto way = Transformation::between(crs, *wgs84);
    return way ? way->forward(at) : kNowhere;
}

namespace {
// Ground displacement in metres (east, north) for a small step in the CRS.
struct GroundFrame {
    Point alongX, alongY;  // metres of ground per coordinate unit
};

GroundFrame groundFrame(const CrsPtr& crs, Point at) {
    const auto projection = makeProjection(crs->method, crs->parameters, crs->ellipsoid);
    if (!projection) return {kNowhere, kNowhere};
    const double step = 1.0;  // metre
    std::array<Point, 5> p{at * crs->unit.size, {}, {}, {}, {}};
    p[1] = p[0] + Point{step, 0}, p[2] = p[0] - Point{step, 0};
    p[3] = p[0] + Point{0, step}, p[4] = p[0] - Point{0, step};
    (*projection)->inverse(p);
    const Point perDegree = metresPerDegree(crs->ellipsoid, p[0].y);
    const auto ground = [&](Point a, Point b) {
        return Point{(a.x - b.x) * perDegree.x, (a.y - b.y) * perDegree.y} *
               (crs->unit.size / (2 * step));
    };
    return {ground(p[1], p[2]), ground(p[3], p[4])};
}
}  // namespace

Point groundUnits(const CrsPtr& crs, Point at) {
    if (!crs) return {1, 1};
    if (crs->isGeographic()) return metresPerDegree(crs->ellipsoid, at.y);
    const GroundFrame frame = groundFrame(crs, at);
    return {std::hypot(frame.alongX.x, frame.alongX.y), std::hypot(frame.alongY.x, frame.alongY.y)};
}

double gridConvergence(const CrsPtr& crs, Point at) {
    if (!crs || crs->isGeographic()) return 0;
    const GroundFrame frame = groundFrame(crs, at);
    return std::atan2(frame.alongY.x, frame.alongY.y) / kRadiansPerDegree;
}

}  // namespace ledge::crs
