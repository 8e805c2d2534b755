#pragma once
#include <span>
#include <utility>
#include <vector>

#include "core/geometry/point.h"

/// Patterns over areas, as lines and places on the paper.
namespace ledge {

using Segment = std::pair<Point, Point>;

/// Parallel lines inside rings by the even-odd rule, y down. `degrees`: how lines rise to the
/// right; they lie at multiples of `spacing` from the line through `origin`, so that neighbouring
/// areas and tiles continue each other. Nothing for a spacing that is not above zero, or for more
/// than a million lines.
std::vector<Segment> hatched(std::span<const std::vector<Point>> rings, double spacing,
                             double degrees, Point origin);
/// Places of a square grid of such lines that lie inside.
std::vector<Point> studded(std::span<const std::vector<Point>> rings, double spacing,
                           double degrees, Point origin);
/// A line beside another at a distance to the right of the way it runs (y down); corners are
/// mitred up to twice the distance, else cut. What folds back is not untangled.
std::vector<Point> beside(std::span<const Point> line, double distance);

}  // namespace ledge
