#pragma once
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge {

/// The pieces of a line inside a box (Liang and Barsky 1984, per segment).
std::vector<std::vector<Point>> clipLine(std::span<const Point> line, const Box& box);

/// A piece of a line, and how far along the line it begins.
struct LinePiece {
    std::vector<Point> points;
    double from = 0;
};
/// The same pieces with where they begin. Steps to points that are not finite have no length.
std::vector<LinePiece> clippedPieces(std::span<const Point> line, const Box& box);

/// A closed ring cut to a box (Sutherland and Hodgman 1974). Cuts along the box edge may coincide,
/// which is right for filling and wrong for outlining: outline with clipLine. Empty when outside.
std::vector<Point> clipRing(std::span<const Point> ring, const Box& box);

/// Drops points nearer than `tolerance` to the line through their kept neighbours
/// (Douglas and Peucker 1973), ends kept.
std::vector<Point> simplified(std::span<const Point> line, double tolerance);

/// A closed ring or line with corners rounded by Chaikin's scheme (1974), `rounds` times. Ends
/// kept.
std::vector<Point> smoothed(std::span<const Point> line, int rounds);

}  // namespace ledge
