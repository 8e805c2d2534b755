#pragma once
#include <vector>

#include "core/crs/crs.h"
#include "core/raster/raster_source.h"

namespace ledge::terrain {

struct ProfilePoint {
    double distance = 0;   ///< along the line, metres
    Point at;              ///< in the line's CRS
    double height = kNaN;  ///< as the DEM has it; NaN where it has none
};

/// Heights along a line.
///
/// The line runs on the shortest way over the ellipsoid between its vertices (straight in the plane
/// when its CRS is undeclared); distances are those on the ellipsoid. Samples stand at most `step`
/// metres apart, at every vertex, evenly between; a step of 0 takes the DEM's cell size on the
/// ground. Heights are bilinear between the four nearest cell centres at full resolution; the
/// nearest where one of them has no data.
/// Errors: InvalidArgument for lines of fewer than two points and steps that are not positive;
/// LimitExceeded over ten million samples; those of the source; Cancelled.
Result<std::vector<ProfilePoint>> profile(const RasterSource& dem, int band,
                                          const crs::CrsPtr& lineCrs, std::span<const Point> line,
                                          double step, const Progress& progress = {});

/// What a profile amounts to; heights times `metresPerHeight`.
struct ProfileSummary {
    double length = 0;         ///< on the ground plan, metres
    double surfaceLength = 0;  ///< on the surface, metres
    double ascent = 0, descent = 0;
    double lowest = kNaN, highest = kNaN;
    double lowestAt = kNaN, highestAt = kNaN;  ///< distances of the first of them
    double steepest = kNaN;      ///< largest rise or fall per metre between samples
    double steepestFrom = kNaN;  ///< distance at which that stretch begins
};
ProfileSummary summary(std::span<const ProfilePoint> points, double metresPerHeight = 1);

}  // namespace ledge::terrain
