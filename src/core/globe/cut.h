#pragma once
#include <optional>
#include <vector>

#include "core/geometry/geometry.h"
#include "core/globe/domain.h"

namespace ledge::globe {

/// A geometry in degrees as the map's domain leaves it. Longitudes are continuous along each part
/// and, in a strip, within its edges; in a cap they go on beyond 180.
struct Cut {
    Geometry geometry;
    /// For each point of a polygon whether the side to the next one is no outline: it runs along a
    /// tear, or along the meridian or pole where the data themselves were cut. Empty: none does.
    std::vector<std::uint8_t> isSeam;
    bool isClamped = false;  ///< latitudes beyond a pole were taken for the pole

    void clear();
};

/// Marks the sides of polygons along which data in degrees were cut: on the antimeridian and at the
/// poles. For each point; left empty when there are none.
void markSeams(const GeometryView& lonLat, std::vector<std::uint8_t>& isSeam);

/// Cuts geometries at the boundary of a domain. Lines are straight in longitude and latitude;
/// where longitudes jump by more than 180 degrees they cross the antimeridian the short way, and
/// rings that run round the earth contain the nearer pole. Polygons close along the boundary, and
/// one that holds all of the domain becomes the domain. Thread-safe.
class Cutter {
public:
    /// `step`: how finely curved boundaries are drawn, degrees.
    explicit Cutter(const Domain& domain, double step = 0.5);

    /// What to add to the longitudes of a geometry that lies inside as it is, so that they lie in
    /// the domain's own turn; nothing where there may be something to cut.
    std::optional<double> turnInside(const GeometryView& lonLat) const;
    /// Empty where nothing of it is inside. Values of z and m are carried over, those of new
    /// points between others taken along the line, of the boundary none.
    void cut(const GeometryView& lonLat, Cut& out) const;

    const Domain& domain() const { return m_domain; }

private:
    Domain m_domain;
    double m_step;
};

}  // namespace ledge::globe
