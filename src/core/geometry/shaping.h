#pragma once
#include <optional>

#include "core/geometry/geometry.h"

/// Changes of a shape by hand: one vertex, one part at a time. Shapes are values; vertices are
/// named by their place in `points`.
namespace ledge {

/// What of a shape lies nearest to a place, in the plane.
struct Touched {
    bool isVertex = false;
    std::size_t point = 0;  ///< the vertex, or the one that the side begins at
    Point at;               ///< on the shape
    double distance = 0;
};
/// A vertex within reach goes before a side that is nearer; nothing when neither is within reach.
std::optional<Touched> touchedAt(const GeometryView& shape, Point at, double reach);

/// One vertex elsewhere; both ends of a ring move together.
Geometry withVertexAt(const GeometryView& shape, std::size_t vertex, Point to);
/// One more vertex on the side that begins at `after`; heights and measures by its place on it.
Geometry withVertexAfter(const GeometryView& shape, std::size_t after, Point at);
/// Without a vertex. A line left with one point, or a ring with two sides, goes with it; a hole
/// alone does, an outer ring takes its holes along. Nothing where nothing is left.
std::optional<Geometry> withoutVertex(const GeometryView& shape, std::size_t vertex);
/// The part that a vertex belongs to: a point, a line, a polygon with its holes, or a hole alone.
std::optional<Geometry> withoutPartOf(const GeometryView& shape, std::size_t vertex);
/// With the parts of another shape of the same type.
Geometry withParts(const GeometryView& shape, const GeometryView& more);
/// A ring as one more hole. Nothing where no polygon of the shape holds all of it.
std::optional<Geometry> withHole(const GeometryView& shape, const GeometryView& hole);
/// Each part on its own: a multi shape as single ones.
std::vector<Geometry> partsOf(const GeometryView& shape);

}  // namespace ledge
