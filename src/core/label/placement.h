#pragma once
#include <cstddef>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

#include "core/geometry/point.h"

namespace ledge::label {

/// Where a label could stand, in drawing units with y down: the boxes it covers (one for upright
/// text, several along a turned or bent one), and how far from the best place it is.
struct Candidate {
    Point origin;             ///< left end of the baseline
    double angleRadians = 0;  ///< of the baseline, clockwise with y down
    std::vector<Box> boxes;
    double cost = 0;
    /// Along a bent line: where the text begins on it, and whether it runs against it.
    std::optional<double> from = {};
    bool isReversed = false;
};

struct Request {
    double rank = 0;  ///< higher is placed first
    double size = 0;  ///< settles ties: larger first
    std::vector<Candidate> candidates;
    /// Where it stood on the frame before: it stays there while there is room, and gives way to
    /// none that comes later.
    std::optional<std::size_t> kept = {};
};

using Choice = std::vector<std::optional<std::size_t>>;

/// Chosen candidate of each request, or nothing where no room was found.
///
/// Requests are taken by rank, then by standing there already, size and order; each takes its
/// cheapest candidate that meets neither an obstacle nor an earlier label and lies inside `frame`.
/// The same input gives the same result. Cost: near linear, by a grid of cells.
Choice placeInTurn(std::span<const Request> requests, std::span<const Box> obstacles,
                   const Box& frame);

/// The same, then improved: one without room takes it from labels that can stand elsewhere, over up
/// to three of them one after another; none goes for it, so that more stand in the end and each
/// rank loses nothing but better places. At last each takes its cheapest place that is free. What
/// stood already is not moved.
Choice place(std::span<const Request> requests, std::span<const Box> obstacles, const Box& frame);

struct TextSize {
    double width = 0, ascent = 0, descent = 0;
};

/// How much is done for labels that find no room.
enum class Effort : std::uint8_t { InTurn, Improved };

/// Eight places around a point mark of a given radius: upper right, upper left, lower right,
/// lower left, right, left, above, below.
std::vector<Candidate> aroundPoint(Point anchor, double radius, TextSize text);

/// One place centred on a point.
std::vector<Candidate> centredOn(Point anchor, TextSize text);

/// The boxes of a text turned about its origin, one for each stretch as long as it is high.
std::vector<Box> turnedBoxes(Point origin, double angleRadians, TextSize text);

/// Places along a line where the text fits on a straight stretch. When `readsUphill`, the head of
/// the letters points to the left side of the line's direction (y down: the higher side of our
/// contours); otherwise the text is turned so that it never stands upside down.
/// Places start every `spacing` along the line.
std::vector<Candidate> alongLine(std::span<const Point> line, TextSize text, double spacing,
                                 bool readsUphill);

}  // namespace ledge::label
