#pragma once
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge::label {

/// Where a label could stand, in drawing units with y down: the boxes it covers (one for upright
/// text, several along a turned one), and how far from the best place it is.
struct Candidate {
    Point origin;             ///< left end of the baseline
    double angleRadians = 0;  ///< of the baseline, clockwise with y down
    std::vector<Box> boxes;
    double cost = 0;
};

struct Request {
    double rank = 0;  ///< higher is placed first
    double size = 0;  ///< settles ties: larger first
    std::vector<Candidate> candidates;
};

/// Chosen candidate of each request, or nothing where no room was found.
///
/// Requests are taken by rank, then size, then order; each takes its cheapest candidate that meets
/// neither an obstacle nor an earlier label and lies inside `frame`. The same input gives the same
/// result. Cost: near linear, by a grid of cells.
std::vector<std::optional<std::size_t>> place(std::span<const Request> requests,
                                              std::span<const Box> obstacles, const Box& frame);

struct TextSize {
    double width = 0, ascent = 0, descent = 0;
};

/// Eight places around a point mark of a given radius: upper right, upper left, lower right,
/// lower left, right, left, above, below.
std::vector<Candidate> aroundPoint(Point anchor, double radius, TextSize text);

/// One place centred on a point.
std::vector<Candidate> centredOn(Point anchor, TextSize text);

/// Places along a line where the text fits on a straight stretch. When `readsUphill`, the head of
/// the letters points to the left side of the line's direction (y down: the higher side of our
/// contours); otherwise the text is turned so that it never stands upside down.
/// Places start every `spacing` along the line.
std::vector<Candidate> alongLine(std::span<const Point> line, TextSize text, double spacing,
                                 bool readsUphill);

}  // namespace ledge::label
