#include "core/globe/unroll.h"

#include <algorithm>
#include <cmath>

namespace ledge::globe {
namespace {
bool isAntimeridian(double lon) { return std::abs(std::remainder(lon, 360.0)) == 180; }

// The way from one longitude to the next: the short one. A jump of a whole turn is none, but along
// the upper or lower side of a rectangle of the whole earth, where the sides before and after do
// not lead on across the antimeridian.
double way(double before, double from, double to, double after) {
    const double d = to - from;
    if (std::abs(d) <= 180) return d;
    if (std::abs(d) != 360) return std::remainder(d, 360.0);
    return (from - before) * d < 0 || (after - to) * d < 0 ? 0 : d;
}

double areaOf(const Path& ring) {
    double twice = 0;
    for (std::size_t i = 1; i < ring.size(); ++i)
        twice += (ring[i].at.x - ring[0].at.x) * (ring[i - 1].at.y - ring[0].at.y) * -1 +
                 (ring[i - 1].at.x - ring[0].at.x) * (ring[i].at.y - ring[0].at.y);
    return twice / 2;
}

void reverse(Unrolled& ring) {
    Path& path = ring.path;
    std::reverse(path.begin(), path.end());
    // A side's mark goes with the vertex that it now begins at.
    for (std::size_t i = 0; i + 1 < path.size(); ++i) path[i].isSeam = path[i + 1].isSeam;
    if (!path.empty()) path.back().isSeam = false;
    ring.turns = -ring.turns;
}
}  // namespace

Vertex between(const Vertex& a, const Vertex& b, double share) {
    return {a.at + (b.at - a.at) * share, a.z + (b.z - a.z) * share, a.m + (b.m - a.m) * share,
            a.isSeam};
}

bool isCutSide(Point a, Point b) {
    return (isAntimeridian(a.x) && std::remainder(a.x - b.x, 360.0) == 0) ||
           (std::abs(a.y) >= 90 && a.y == b.y);
}

Unrolled unrolled(const GeometryView& g, std::size_t part, double origin, bool isRing,
                  bool& isClamped) {
    Unrolled out;
    const auto points = g.part(part);
    const auto zs = g.ofPart(g.z, part), ms = g.ofPart(g.m, part);
    std::size_t count = points.size();
    if (isRing && count > 1 && points.front() == points.back()) --count;
    if (count == 0) return out;
    out.path.reserve(count + 1);
    double x = std::remainder(points[0].x - origin, 360.0), sum = 0;
    const std::size_t sides = isRing ? count : count - 1;
    for (std::size_t i = 0; i <= sides; ++i) {
        const std::size_t k = i % count;
        Vertex v{{x, points[k].y}, zs.empty() ? kNaN : zs[k], ms.empty() ? kNaN : ms[k]};
        if (std::abs(v.at.y) > 90) v.at.y = std::copysign(90, v.at.y), isClamped = true;
        if (i < sides) {
            const Point a = points[k], b = points[(k + 1) % count];
            const auto lon = [&](std::size_t n) { return points[n % count].x; };
            const double before = isRing || k > 0 ? lon(k + count - 1) : a.x;
            const double after = isRing || k + 2 < count ? lon(k + 2) : b.x;
            x += std::abs(b.x - a.x) <= 180 ? b.x - a.x : way(before, a.x, b.x, after);
            sum += v.at.y;
            v.isSeam = isRing && isCutSide(a, b);
        }
        out.path.push_back(v);
    }
    if (isRing) {
        out.turns = static_cast<int>(std::lround((x - out.path.front().at.x) / 360));
        out.isAboutNorth = sum > 0;
        // What rounding left of the way round is taken back.
        out.path.back().at.x = out.path.front().at.x + 360.0 * out.turns;
    }
    return out;
}

void turnInteriorLeft(Unrolled& ring, bool isOuter) {
    const bool isLeft =
        ring.turns != 0 ? (ring.turns > 0) == ring.isAboutNorth : areaOf(ring.path) >= 0;
    if (isLeft != isOuter) reverse(ring);
}

bool holds(std::span<const Unrolled> rings, Point p) {
    bool inside = false;
    for (const Unrolled& ring : rings) {
        if (ring.turns % 2 != 0 && ring.isAboutNorth) inside = !inside;
        for (std::size_t i = 1; i < ring.path.size(); ++i) {
            const Point a = ring.path[i - 1].at, b = ring.path[i].at;
            const double low = std::min(a.x, b.x), high = std::max(a.x, b.x);
            for (double x = p.x + 360 * std::ceil((low - p.x) / 360); x < high; x += 360)
                if (a.y + (b.y - a.y) * (x - a.x) / (b.x - a.x) > p.y) inside = !inside;
        }
    }
    return inside;
}

}  // namespace ledge::globe
