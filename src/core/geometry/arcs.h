#pragma once
#include <vector>

#include "core/geometry/point.h"

namespace ledge {

/// Curves become chords that stray from them by no more than this share of their radius: 71 chords
/// for a circle.
inline constexpr double kArcTolerance = 1e-3;

/// The points of a circular arc behind its first one; `from` and `sweep` in radians, sweep positive
/// against the clock.
void addArc(std::vector<Point>& out, Point centre, double radius, double from, double sweep);
/// The same of an arc from `a` through `via` to `b`; where the ends are one, the whole circle that
/// has `a` and `via` as ends of a diameter (ISO 19107). Three points on a line are one.
void addArcThrough(std::vector<Point>& out, Point a, Point via, Point b);

}  // namespace ledge
