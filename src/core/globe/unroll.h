#pragma once
#include <span>
#include <vector>

#include "core/geometry/geometry.h"

/// Rings and lines in degrees as continuous paths: what cutting works on.
namespace ledge::globe {

struct Vertex {
    Point at;
    double z = kNaN, m = kNaN;
    bool isSeam = false;  ///< of the side to the next one
};
using Path = std::vector<Vertex>;

/// Part of the way from one to another; heights and measures with it.
Vertex between(const Vertex& a, const Vertex& b, double share);

/// A part of a geometry with continuous longitudes from an origin.
struct Unrolled {
    Path path;
    int turns = 0;              ///< around the earth, to the east; of rings
    bool isAboutNorth = false;  ///< which pole it runs around: the nearer one
};
/// `isClamped` is set where latitudes beyond a pole were taken for the pole.
Unrolled unrolled(const GeometryView& geometry, std::size_t part, double origin, bool isRing,
                  bool& isClamped);

/// Turns a ring so that its interior is on the left: of one around a pole that is the pole's side.
void turnInteriorLeft(Unrolled& ring, bool isOuter);

/// Whether a position lies on the polygon's inside, by the rings met on the way to the north pole.
bool holds(std::span<const Unrolled> rings, Point p);

/// Whether data in degrees were cut along a side: on the antimeridian, or at a pole.
bool isCutSide(Point a, Point b);

}  // namespace ledge::globe
