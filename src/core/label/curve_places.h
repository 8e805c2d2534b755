#pragma once
#include "core/label/placement.h"

namespace ledge::label {

/// One letter of a text set along a line.
struct Letter {
    Point origin;  ///< left end of its baseline
    double angleRadians = 0;
};

/// Letters along a line, their baselines on a line beside it, lifted by `lift` to the side of their
/// heads; `from` is a length along that one. `advances` are the widths of the letters.
std::vector<Letter> lettersAlong(std::span<const Point> line, std::span<const double> advances,
                                 double from, bool isReversed, double lift);

/// Places along a bent line, the letters on it one by one: never upside down, nowhere bent so that
/// letters would touch (a turn of at most 25 degrees from one to the next), straight and level
/// stretches first. `height` holds ascent and descent; its width is not read. Places start every
/// `spacing` along the line.
std::vector<Candidate> alongCurve(std::span<const Point> line, std::span<const double> advances,
                                  TextSize height, double spacing, double lift);

/// The line through the middle of an area the long way, in the plane of its rings: where a name
/// stretched over it stands. Empty where the area is empty, or as wide as long.
std::vector<Point> axisOf(std::span<const std::vector<Point>> rings);

}  // namespace ledge::label
