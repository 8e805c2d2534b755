#pragma once
#include <span>

#include "core/feature/feature.h"
#include "session/source_cache.h"

namespace ledge::session {

/// A path or an area measured on the ellipsoid of the map's datum and in the plane of its CRS.
/// NaN where there is no such thing: the ellipsoidal side of plain local coordinates, the planar
/// side of degrees; bearings of a leg without length.
struct Measurement {
    double ellipsoidalLength = kNaN, planarLength = kNaN;  ///< metres; the perimeter of an area
    double ellipsoidalArea = kNaN, planarArea = kNaN;      ///< square metres, unsigned
    double lastEllipsoidal = kNaN, lastPlanar = kNaN;      ///< of the last leg, metres
    double bearing = kNaN;      ///< of the last leg at its start, degrees from true north
    double gridBearing = kNaN;  ///< in the plane, degrees from grid north
    double scaleFactor = kNaN;  ///< of the projection at the last point, along the last leg
    bool isArea = false;
};
/// `points` in the map's CRS. Two points or more make a path, three or more an area.
Measurement measure(const crs::CrsPtr& mapCrs, std::span<const Point> points, bool isArea);

/// The shortest lines between points as they run on the map, in the map's CRS: in pieces where the
/// map is torn, and what they close around.
struct TrueCourse {
    std::vector<std::vector<Point>> lines;
    Geometry area;  ///< a polygon; empty when not closed
};
TrueCourse trueCourse(const crs::CrsPtr& mapCrs, std::span<const Point> points, bool isClosed);

/// A feature that nothing snaps to: the one whose shape is in hand.
struct InHand {
    doc::Id source = 0;
    FeatureKey key = 0;
};
/// What a place snaps to within reach (map units): the nearest vertex of a drawn vector layer, else
/// the nearest place on a side.
std::optional<Point> snappedTo(const doc::Document& document, const SourceCache& cache,
                               const crs::CrsPtr& mapCrs, Point at, double reach,
                               const std::optional<InHand>& inHand = {});

/// A measurement as a table of one feature with its figures as fields.
FeatureTable measurementTable(const crs::CrsPtr& mapCrs, std::span<const Point> points,
                              const Measurement& measured);

}  // namespace ledge::session
