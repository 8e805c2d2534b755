#pragma once
#include <span>

#include "core/geometry/geometry.h"

namespace ledge {

/// Planar signed area of a closed ring, counter-clockwise positive (y up).
double signedArea(std::span<const Point> ring);
/// Planar area of a polygon geometry, holes taken out; 0 for other types.
double planarArea(const GeometryView& geometry);
/// Planar length of the lines, or of the rings of a polygon.
double planarLength(const GeometryView& geometry);
/// Whether the point lies inside (even-odd over all rings); edges may fall either way.
bool isInside(const GeometryView& polygon, Point p);
/// Planar distance from a point to the geometry; 0 inside a polygon, infinite when empty.
double distanceTo(const GeometryView& geometry, Point p);
/// Centre of gravity: of the area of polygons, along the length of lines, of points (by the usual
/// sums; areas and lines without extent count as their points). Not finite when empty.
Point centroidOf(const GeometryView& geometry);
/// A point well inside a polygon (middle of the widest span of a scan line), the middle vertex of
/// a line along its length, or the point itself: where an area's name or mark stands.
Point anchorOf(const GeometryView& geometry);

}  // namespace ledge
