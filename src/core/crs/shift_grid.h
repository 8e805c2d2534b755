#pragma once
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/geometry/point.h"

namespace ledge::crs {

/// A grid of latitude and longitude shifts, NTv2's model: sub-grids in degrees, denser ones inside
/// others; shifts bilinear between nodes (EPSG method 9615).
class ShiftGrid {
public:
    struct SubGrid {
        std::string name;
        Box box;  ///< degrees, east positive
        double stepLon = 0, stepLat = 0;
        std::size_t rows = 0, cols = 0;  ///< from the south-west, rows northwards
        std::vector<Point> shifts;       ///< degrees to add, row by row
    };
    /// Errors: InvalidArgument when a sub-grid's size does not fit its box.
    static Result<ShiftGrid> make(std::string name, std::vector<SubGrid> grids);

    /// NaN outside every sub-grid.
    Point forward(Point lonLat) const;
    /// By iteration, to 1e-12 degree.
    Point inverse(Point lonLat) const;
    Box box() const;
    const std::string& name() const { return m_name; }
    const std::vector<SubGrid>& grids() const { return m_grids; }

private:
    Point shiftAt(Point lonLat) const;
    std::string m_name;
    std::vector<SubGrid> m_grids;  ///< the densest first
};

}  // namespace ledge::crs
