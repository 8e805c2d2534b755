#include "core/symbol/hatch.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

#include "core/base/constants.h"

namespace ledge {
namespace {
constexpr double kMostLines = 1e6;

// Turned so that lines run along x.
struct Turned {
    double c, s;
    Point origin;
    Turned(double degrees, Point at)
        : c(std::cos(degrees * kRadiansPerDegree)), s(std::sin(degrees * kRadiansPerDegree)),
          origin(at) {}
    Point into(Point p) const {
        const Point d = p - origin;
        return {d.x * c - d.y * s, d.x * s + d.y * c};
    }
    Point back(Point p) const { return origin + Point{p.x * c + p.y * s, p.y * c - p.x * s}; }
};

// Calls `each(y, from, to)` for every stretch of a line that lies inside.
template <typename Each>
void forStretches(std::span<const std::vector<Point>> rings, double spacing, const Turned& turned,
                  const Each& each) {
    if (!(spacing > 0)) return;
    struct Crossing {
        std::int64_t line;
        double x;
    };
    double low = INFINITY, high = -INFINITY;
    for (const auto& ring : rings)
        for (const Point p : ring) {
            const double y = turned.into(p).y;
            low = std::min(low, y), high = std::max(high, y);
        }
    if (!((high - low) / spacing < kMostLines)) return;
    std::vector<Crossing> crossings;
    for (const auto& ring : rings)
        for (std::size_t i = 0; i < ring.size(); ++i) {
            Point a = turned.into(ring[i]), b = turned.into(ring[(i + 1) % ring.size()]);
            if (a.y > b.y) std::swap(a, b);
            // Half open, so that a corner on a line counts once.
            const double first = std::ceil(a.y / spacing), end = std::ceil(b.y / spacing);
            for (double k = first; k < end; ++k) {
                const double y = k * spacing;
                crossings.push_back(
                    {static_cast<std::int64_t>(k), a.x + (b.x - a.x) * (y - a.y) / (b.y - a.y)});
            }
        }
    std::sort(crossings.begin(), crossings.end(), [](const Crossing& one, const Crossing& two) {
        return one.line != two.line ? one.line < two.line : one.x < two.x;
    });
    for (std::size_t i = 0; i + 1 < crossings.size(); i += 2)
        if (crossings[i].line == crossings[i + 1].line && crossings[i + 1].x > crossings[i].x)
            each(static_cast<double>(crossings[i].line) * spacing, crossings[i].x,
                 crossings[i + 1].x);
}
}  // namespace

std::vector<Segment> hatched(std::span<const std::vector<Point>> rings, double spacing,
                             double degrees, Point origin) {
    std::vector<Segment> out;
    const Turned turned(degrees, origin);
    forStretches(rings, spacing, turned, [&](double y, double from, double to) {
        out.emplace_back(turned.back({from, y}), turned.back({to, y}));
    });
    return out;
}

std::vector<Point> studded(std::span<const std::vector<Point>> rings, double spacing,
                           double degrees, Point origin) {
    std::vector<Point> out;
    const Turned turned(degrees, origin);
    forStretches(rings, spacing, turned, [&](double y, double from, double to) {
        if ((to - from) / spacing > kMostLines) return;
        for (double k = std::ceil(from / spacing); k * spacing < to; ++k)
            out.push_back(turned.back({k * spacing, y}));
    });
    return out;
}

std::vector<Point> beside(std::span<const Point> line, double away) {
    std::vector<Point> at;
    for (const Point p : line)
        if (at.empty() || !(at.back() == p)) at.push_back(p);
    if (at.size() < 2 || away == 0) return {line.begin(), line.end()};
    const bool isClosed = at.size() > 3 && at.front() == at.back();
    const auto normal = [&](std::size_t from) {
        const Point d = at[from + 1] - at[from];
        const double length = std::hypot(d.x, d.y);
        return Point{-d.y / length, d.x / length};
    };
    std::vector<Point> out;
    const auto corner = [&](Point p, Point before, Point after) {
        const double cosine = before.x * after.x + before.y * after.y;
        // A mitre of 1 / cos(half the turn); sharp corners get both ends instead.
        const double scale = 1 / (1 + cosine);
        if (1 + cosine > 0.5) {
            out.push_back(p + (before + after) * (away * scale));
        } else {
            out.push_back(p + before * away);
            out.push_back(p + after * away);
        }
    };
    const std::size_t last = at.size() - 1;
    if (isClosed)
        corner(at[0], normal(last - 1), normal(0));
    else
        out.push_back(at[0] + normal(0) * away);
    for (std::size_t i = 1; i < last; ++i) corner(at[i], normal(i - 1), normal(i));
    out.push_back(isClosed ? Point(out.front()) : at[last] + normal(last - 1) * away);
    return out;
}

}  // namespace ledge
