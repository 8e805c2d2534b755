#include "core/globe/ground_measure.h"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/geometry/measure.h"
#include "core/geometry/relate.h"

namespace ledge::globe {
namespace {
constexpr double kInfinite = std::numeric_limits<double>::infinity();
// Within so many metres the plane of the parallels serves to find what is nearest.
constexpr double kLocal = 20000;

double wrapped(double degrees) { return degrees - 360 * std::round(degrees / 360); }

// Straight pieces of a shape in some plane; points are pieces without length.
struct Pieces {
    std::vector<PreparedShape::Side> of;
    PackedTree tree;

    void index() {
        std::vector<Box> boxes;
        boxes.reserve(of.size());
        for (const auto& one : of) boxes.push_back(one.box());
        tree = PackedTree(boxes);
    }
};

template <typename Plane>
Pieces piecesIn(const GeometryView& shape, const Plane& plane) {
    Pieces out;
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const auto part = shape.part(i);
        if (part.empty()) continue;
        Point last = plane.to(part[0]);
        if (part.size() == 1) out.of.push_back({last, last});
        for (std::size_t k = 1; k < part.size(); ++k) {
            const Point next = plane.to(part[k]);
            out.of.push_back({last, next});
            last = next;
        }
    }
    std::erase_if(out.of, [](const auto& s) { return !s.from.isFinite() || !s.to.isFinite(); });
    return out;
}

struct Pair {
    Point a = kNowhere, b = kNowhere;
    double distance = kInfinite;
};

Point nearestOn(const PreparedShape::Side& side, Point p) {
    const Point along = side.to - side.from;
    const double square = along.x * along.x + along.y * along.y;
    if (square == 0) return side.from;
    const Point to = p - side.from;
    return side.from + along * std::clamp((to.x * along.x + to.y * along.y) / square, 0.0, 1.0);
}

void consider(Pair& best, Point a, Point b) {
    const double d = distance(a, b);
    if (d < best.distance) best = {a, b, d};
}

void consider(Pair& best, const PreparedShape::Side& a, const PreparedShape::Side& b) {
    const int a1 = sideOf(b.from, b.to, a.from), a2 = sideOf(b.from, b.to, a.to),
              b1 = sideOf(a.from, a.to, b.from), b2 = sideOf(a.from, a.to, b.to);
    if (a1 * a2 < 0 && b1 * b2 < 0) {
        const Point d = a.to - a.from, e = b.to - b.from, f = b.from - a.from;
        const Point p = a.from + d * ((f.x * e.y - f.y * e.x) / (d.x * e.y - d.y * e.x));
        best = {p, p, 0};
        return;
    }
    consider(best, a.from, nearestOn(b, a.from));
    consider(best, a.to, nearestOn(b, a.to));
    consider(best, nearestOn(a, b.from), b.from);
    consider(best, nearestOn(a, b.to), b.to);
}

// Sides of the fewer are compared with those of the other that are not farther off than what was
// found so far.
Pair nearest(const Pieces& a, Pieces& b) {
    Pair best;
    if (a.of.empty() || b.of.empty()) return best;
    if (a.of.size() * b.of.size() <= 4096) {
        for (const auto& one : a.of)
            for (const auto& other : b.of) consider(best, one, other);
        return best;
    }
    b.index();
    // A first guess: the ends nearest to the middle of the other's box.
    Box box;
    for (const auto& one : a.of) box.add(one.box());
    const auto nearestTo = [](const Pieces& pieces, Point p) {
        return std::min_element(pieces.of.begin(), pieces.of.end(),
                                [&](const auto& x, const auto& y) {
                                    return distance(x.from, p) < distance(y.from, p);
                                })
            ->from;
    };
    const Point onB = nearestTo(b, box.centre()), onA = nearestTo(a, onB);
    consider(best, onA, onB);
    for (const auto& one : a.of)
        b.tree.meeting(one.box().grown(best.distance), [&](std::size_t i) {
            consider(best, one, b.of[i]);
            return best.distance > 0;
        });
    return best;
}

// Degrees as metres near a place, along its parallel and its meridian.
struct ParallelPlane {
    Point centre, scale;
    ParallelPlane(const crs::Ellipsoid& ellipsoid, Point c)
        : centre(c), scale(crs::metresPerDegree(ellipsoid, c.y)) {}
    Point to(Point p) const {
        return {wrapped(p.x - centre.x) * scale.x, (p.y - centre.y) * scale.y};
    }
    Point from(Point p) const { return {centre.x + p.x / scale.x, centre.y + p.y / scale.y}; }
};

struct EquidistantPlane {
    const crs::Geodesic& geodesic;
    Point centre;
    Point to(Point p) const {
        const auto line = geodesic.inverse(centre, p);
        const double bearing = line.bearingStart * crs::kRadiansPerDegree;
        if (line.distance == 0) return {0, 0};
        return {line.distance * std::sin(bearing), line.distance * std::cos(bearing)};
    }
    Point from(Point p) const {
        const double far = std::hypot(p.x, p.y);
        if (far == 0) return centre;
        return geodesic.direct(centre, std::atan2(p.x, p.y) / crs::kRadiansPerDegree, far).at;
    }
};

template <typename Plane>
Pair nearestIn(const Plane& plane, const GeometryView& a, const GeometryView& b) {
    auto one = piecesIn(a, plane), other = piecesIn(b, plane);
    const bool isTurned = one.of.size() > other.of.size();
    Pair out = isTurned ? nearest(other, one) : nearest(one, other);
    if (isTurned) std::swap(out.a, out.b);
    if (!std::isfinite(out.distance)) return out;
    out.a = plane.from(out.a);
    out.b = plane.from(out.b);
    return out;
}
Point middle(Point a, Point b) { return {a.x + wrapped(b.x - a.x) / 2, (a.y + b.y) / 2}; }
}  // namespace

double distanceOnEllipsoid(const crs::Geodesic& geodesic, const GeometryView& a,
                           const GeometryView& b) {
    if (a.isEmpty() || b.isEmpty()) return kNaN;
    if (meets(PreparedShape(a), PreparedShape(b))) return 0;
    if (a.points.size() == 1 && b.points.size() == 1)
        return geodesic.inverse(a.points[0], b.points[0]).distance;
    Point centre = middle(a.box().centre(), b.box().centre());
    Pair pair = nearestIn(ParallelPlane(geodesic.ellipsoid(), centre), a, b);
    if (!std::isfinite(pair.distance)) return kNaN;
    // Where the first plane was centred far off its choice is only near; the next is centred on it.
    for (int round = 0; round < 2; ++round) {
        centre = middle(pair.a, pair.b);
        const double far = geodesic.inverse(pair.a, pair.b).distance;
        if (far > kLocal || std::abs(centre.y) > 85)
            pair = nearestIn(EquidistantPlane{geodesic, centre}, a, b);
        else
            pair = nearestIn(ParallelPlane(geodesic.ellipsoid(), centre), a, b);
    }
    return geodesic.inverse(pair.a, pair.b).distance;
}

GroundMeasure::GroundMeasure(const crs::CrsPtr& crs) {
    if (!crs) return;
    if (!crs->isGeographic()) {
        auto way = crs::Transformation::between(
            crs, std::make_shared<crs::Crs>(crs::geographicBase(*crs)));
        if (!way) return;
        m_way = *std::move(way);
    }
    m_geodesic.emplace(crs->ellipsoid);
}

std::vector<Point> GroundMeasure::degrees(std::span<const Point> points) const {
    std::vector<Point> out(points.begin(), points.end());
    if (m_way) m_way->forward(out);
    return out;
}

double GroundMeasure::area(const GeometryView& shape) const {
    if (shape.type != GeometryType::Polygon) return 0;
    if (!m_geodesic) return planarArea(shape);
    double out = 0;
    std::size_t next = 0;
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const bool isOuter = next < shape.polygons.size() && shape.polygons[next] == i;
        if (isOuter) ++next;
        const double ring = std::abs(m_geodesic->polygon(degrees(shape.part(i))).area);
        out += isOuter ? ring : -ring;
    }
    return out;
}

double GroundMeasure::length(const GeometryView& shape) const {
    if (shape.type == GeometryType::Point) return 0;
    if (!m_geodesic) return planarLength(shape);
    double out = 0;
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const auto part = degrees(shape.part(i));
        for (std::size_t k = 1; k < part.size(); ++k)
            out += m_geodesic->inverse(part[k - 1], part[k]).distance;
    }
    return out;
}

double GroundMeasure::distance(const GeometryView& a, const GeometryView& b) const {
    if (a.isEmpty() || b.isEmpty()) return kNaN;
    if (!m_geodesic) {
        if (meets(PreparedShape(a), PreparedShape(b))) return 0;
        struct Same {
            Point to(Point p) const { return p; }
            Point from(Point p) const { return p; }
        };
        return nearestIn(Same(), a, b).distance;
    }
    const auto lonLat = [&](const GeometryView& g) {
        Geometry out = g.toGeometry();
        out.points = degrees(g.points);
        return out;
    };
    return distanceOnEllipsoid(*m_geodesic, lonLat(a), lonLat(b));
}

}  // namespace ledge::globe
