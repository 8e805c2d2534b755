#pragma once
#include <vector>

#include "core/base/result.h"
#include "core/geometry/geometry.h"

namespace ledge {

/// A line or area cut along a line that is drawn over it, in the plane: its pieces, two or more.
/// Ends of the cut that lie inside an area, and cuts that cross none of its sides twice, do nothing
/// there. Pieces keep no heights or measures but those of vertices that were there.
/// Errors: InvalidArgument for points, for a cut that crosses itself, and for one that divides
/// nothing.
Result<std::vector<Geometry>> splitAlong(const GeometryView& shape, const GeometryView& cut);

}  // namespace ledge
