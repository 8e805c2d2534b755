#include "core/geometry/arcs.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ledge {
namespace {
constexpr double kFull = 2 * std::numbers::pi;
constexpr double kMostChords = 10000;
}  // namespace

void addArc(std::vector<Point>& out, Point centre, double radius, double from, double sweep) {
    if (!centre.isFinite() || !std::isfinite(radius + from + sweep)) return;
    sweep = std::clamp(sweep, -kFull, kFull);
    // A chord over the angle a strays by 1 - cos(a / 2) of the radius.
    const double widest = 2 * std::acos(1 - kArcTolerance);
    const double count = std::clamp(std::ceil(std::abs(sweep) / widest), 1.0, kMostChords);
    for (double i = 1; i <= count; ++i) {
        const double at = from + sweep * i / count;
        out.push_back({centre.x + radius * std::cos(at), centre.y + radius * std::sin(at)});
    }
}

void addArcThrough(std::vector<Point>& out, Point a, Point via, Point b) {
    // Of circles beyond what numbers can say there are no chords.
    const std::size_t before = out.size();
    const auto endAt = [&](Point p) {
        if (out.size() == before)
            out.push_back(p);
        else
            out.back() = p;
    };
    if (a == b && a != via) {
        const Point centre{(a.x + via.x) / 2, (a.y + via.y) / 2};
        addArc(out, centre, distance(a, via) / 2, std::atan2(a.y - centre.y, a.x - centre.x),
               kFull);
        endAt(b);
        return;
    }
    // The centre is as far from all three; relative to a, so that large coordinates lose nothing.
    const Point u = via - a, v = b - a;
    const double cross = u.x * v.y - u.y * v.x;
    const double uu = u.x * u.x + u.y * u.y, vv = v.x * v.x + v.y * v.y;
    if (!std::isfinite(cross) || std::abs(cross) <= 1e-12 * (uu + vv)) {
        out.push_back(via);
        out.push_back(b);
        return;
    }
    const Point centre{a.x + (v.y * uu - u.y * vv) / (2 * cross),
                       a.y + (u.x * vv - v.x * uu) / (2 * cross)};
    const auto angle = [&](Point p) { return std::atan2(p.y - centre.y, p.x - centre.x); };
    const double from = angle(a);
    double sweep = std::fmod(angle(b) - from + 2 * kFull, kFull);
    if (cross < 0) sweep -= kFull;  // with the clock
    addArc(out, centre, distance(a, centre), from, sweep);
    endAt(b);
}

}  // namespace ledge
