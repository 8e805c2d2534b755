#include "core/geometry/measure.h"

namespace ledge {
namespace {
double lengthOf(std::span<const Point> line) {
    double sum = 0;
    for (std::size_t i = 1; i < line.size(); ++i) sum += distance(line[i - 1], line[i]);
    return sum;
}

double segmentDistance(Point p, Point a, Point b) {
    const Point d = b - a;
    const double squared = d.x * d.x + d.y * d.y;
    const double t =
        squared > 0 ? std::clamp(((p.x - a.x) * d.x + (p.y - a.y) * d.y) / squared, 0.0, 1.0) : 0;
    return distance(p, a + d * t);
}

std::size_t longestPart(const GeometryView& geometry) {
    std::size_t best = 0;
    double bestLength = -1;
    for (std::size_t i = 0; i < geometry.partCount(); ++i)
        if (const double length = lengthOf(geometry.part(i)); length > bestLength)
            best = i, bestLength = length;
    return best;
}

Point halfwayAlong(std::span<const Point> line) {
    double rest = lengthOf(line) / 2;
    for (std::size_t i = 1; i < line.size(); ++i) {
        const double step = distance(line[i - 1], line[i]);
        if (step >= rest && step > 0) return line[i - 1] + (line[i] - line[i - 1]) * (rest / step);
        rest -= step;
    }
    return line.empty() ? kNowhere : line.back();
}

// Middle of the widest inner span over a few scan lines.
Point insideOf(const GeometryView& polygon) {
    const Box box = polygon.box();
    Point best = box.centre();
    double widest = -1;
    for (const double share : {0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8}) {
        const double y = box.yMin + box.height() * share;
        std::vector<double> crossings;
        for (std::size_t k = 0; k < polygon.partCount(); ++k) {
            const auto ring = polygon.part(k);
            for (std::size_t i = 1; i < ring.size(); ++i) {
                const Point a = ring[i - 1], b = ring[i];
                if ((a.y > y) != (b.y > y))
                    crossings.push_back(a.x + (y - a.y) / (b.y - a.y) * (b.x - a.x));
            }
        }
        std::sort(crossings.begin(), crossings.end());
        for (std::size_t i = 1; i < crossings.size(); i += 2) {
            // Lines near the middle win unless another span is clearly wider.
            const double width = (crossings[i] - crossings[i - 1]) * (share == 0.5 ? 1.25 : 1.0);
            if (width > widest) {
                widest = width;
                best = {(crossings[i] + crossings[i - 1]) / 2, y};
            }
        }
    }
    return best;
}
}  // namespace

double signedArea(std::span<const Point> ring) {
    double sum = 0;
    if (ring.empty()) return 0;
    const Point origin = ring.front();  // keeps digits for rings far from the origin
    for (std::size_t i = 1; i < ring.size(); ++i) {
        const Point a = ring[i - 1] - origin, b = ring[i] - origin;
        sum += a.x * b.y - b.x * a.y;
    }
    return sum / 2;
}

double planarArea(const GeometryView& geometry) {
    if (geometry.type != GeometryType::Polygon) return 0;
    double sum = 0;
    std::size_t nextOuter = 0;
    for (std::size_t i = 0; i < geometry.partCount(); ++i) {
        const bool isOuter =
            nextOuter < geometry.polygons.size() && geometry.polygons[nextOuter] == i;
        if (isOuter) ++nextOuter;
        sum += (isOuter ? 1 : -1) * std::abs(signedArea(geometry.part(i)));
    }
    return sum;
}

double planarLength(const GeometryView& geometry) {
    if (geometry.type == GeometryType::Point) return 0;
    double sum = 0;
    for (std::size_t i = 0; i < geometry.partCount(); ++i) sum += lengthOf(geometry.part(i));
    return sum;
}

bool isInside(const GeometryView& polygon, Point p) {
    bool inside = false;
    for (std::size_t k = 0; k < polygon.partCount(); ++k) {
        const auto ring = polygon.part(k);
        for (std::size_t i = 1; i < ring.size(); ++i) {
            const Point a = ring[i - 1], b = ring[i];
            if ((a.y > p.y) != (b.y > p.y) && p.x < a.x + (p.y - a.y) / (b.y - a.y) * (b.x - a.x))
                inside = !inside;
        }
    }
    return inside;
}

double distanceTo(const GeometryView& geometry, Point p) {
    if (geometry.type == GeometryType::Polygon && isInside(geometry, p)) return 0;
    double best = std::numeric_limits<double>::infinity();
    for (std::size_t k = 0; k < geometry.partCount(); ++k) {
        const auto part = geometry.part(k);
        if (part.size() == 1) best = std::min(best, distance(part[0], p));
        for (std::size_t i = 1; i < part.size(); ++i)
            best = std::min(best, segmentDistance(p, part[i - 1], part[i]));
    }
    return best;
}

Point centroidOf(const GeometryView& geometry) {
    if (geometry.isEmpty()) return kNowhere;
    // Relative to a corner, so that large coordinates cost no digits.
    const Point origin = geometry.points[0];
    Point sum;
    double weight = 0;
    for (std::size_t i = 0; i < geometry.partCount(); ++i) {
        const auto part = geometry.part(i);
        // Rings counter-clockwise count positive: a hole takes away what its outer ring, wound the
        // same way or not, brought in.
        double sign = 1;
        if (geometry.type == GeometryType::Polygon) {
            const bool isOuter = std::find(geometry.polygons.begin(), geometry.polygons.end(), i) !=
                                 geometry.polygons.end();
            sign = (signedArea(part) < 0) == isOuter ? -1 : 1;
        }
        for (std::size_t k = 1; k < part.size(); ++k) {
            const Point a = part[k - 1] - origin, b = part[k] - origin;
            if (geometry.type == GeometryType::Polygon) {
                const double cross = sign * (a.x * b.y - b.x * a.y);
                sum = sum + (a + b) * (cross / 3);
                weight += cross;
            } else if (geometry.type == GeometryType::Line) {
                const double length = distance(a, b);
                sum = sum + (a + b) * (length / 2);
                weight += length;
            }
        }
    }
    if (weight != 0) return origin + sum * (1 / weight);
    for (const Point p : geometry.points) sum = sum + (p - origin);
    return origin + sum * (1 / static_cast<double>(geometry.points.size()));
}

Point anchorOf(const GeometryView& geometry) {
    if (geometry.isEmpty()) return kNowhere;
    switch (geometry.type) {
    case GeometryType::Line: return halfwayAlong(geometry.part(longestPart(geometry)));
    case GeometryType::Polygon: return insideOf(geometry);
    default: return geometry.points.front();
    }
}

}  // namespace ledge
