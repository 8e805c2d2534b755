#pragma once
#include <optional>
#include <span>

#include "core/geometry/geometry.h"

/// Set operations on areas, in the plane (Boost.Geometry underneath). Rings that cross themselves
/// are taken even-odd. Nothing where the operation cannot be done; a geometry without points where
/// nothing is left.
namespace ledge::derive {

std::optional<Geometry> unionOf(std::span<const Geometry> areas);
std::optional<Geometry> intersectionOf(const Geometry& a, const Geometry& b);

/// All points within `distance` of a shape, corners round with `steps` sides to a full turn; of an
/// area also inwards, with a distance below 0.
std::optional<Geometry> bufferOf(const Geometry& shape, double distance, int steps);

/// The smallest convex area around a shape's points (Andrew 1979); a line or point where they have
/// no area.
Geometry hullOf(const GeometryView& shape);

}  // namespace ledge::derive
