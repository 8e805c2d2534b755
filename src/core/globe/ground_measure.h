#pragma once
#include <optional>

#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/geometry/geometry.h"

namespace ledge::globe {

/// Lengths, areas and distances of shapes on the ellipsoid of their CRS, whose coordinates they are
/// in; sides count as geodesics between their corners. Without a CRS, or where a CRS has no
/// geographic base, plane ones in the unit of the coordinates. Safe from several threads.
class GroundMeasure {
public:
    explicit GroundMeasure(const crs::CrsPtr& crs);

    /// Square metres of a polygon, holes taken out; 0 for other types. NaN outside the domain.
    double area(const GeometryView& shape) const;
    /// Metres of the lines, or of the rings of a polygon.
    double length(const GeometryView& shape) const;
    /// Metres between the nearest points of two shapes; 0 where they meet. NaN when one is empty.
    double distance(const GeometryView& a, const GeometryView& b) const;
    bool isOnEllipsoid() const { return m_geodesic.has_value(); }
    /// Longitudes and latitudes in degrees on the CRS's own datum; the points themselves without.
    std::vector<Point> degrees(std::span<const Point> points) const;
    const crs::Geodesic* geodesic() const { return m_geodesic ? &*m_geodesic : nullptr; }

private:
    std::optional<crs::Geodesic> m_geodesic;
    std::optional<crs::Transformation> m_way;  ///< to degrees; nothing where they are already
};

/// Metres between the nearest points of two shapes whose coordinates are degrees on the ellipsoid;
/// shapes that meet in the plane of degrees are 0 apart. The nearest points are looked for in a
/// plane through which geodesics from a centre near both run straight (azimuthal equidistant,
/// Snyder, USGS Professional Paper 1395, chapter 25), which is moved towards them twice.
double distanceOnEllipsoid(const crs::Geodesic& geodesic, const GeometryView& a,
                           const GeometryView& b);

}  // namespace ledge::globe
