#pragma once
#include "carto/contour_painter.h"

namespace ledge::carto {

/// Lines of steepest slope, spread evenly over the map at places that do not move with the frame:
/// along them the heights of contours stand one above another, so that a slope is read at a glance
/// (Imhof, "Cartographic Relief Presentation").
class Ladders {
public:
    Ladders(const ContourField& field, const MapFrame& frame);
    /// Pixels to the nearest one, at most `kFar` millimetres.
    double away(Point px) const;
    static constexpr double kFar = 20;

private:
    void climb(const ContourField& field, const Affine& toGrid, Point from, double step,
               double direction);

    std::vector<Point> m_rungs;
    double m_far;
};

}  // namespace ledge::carto
