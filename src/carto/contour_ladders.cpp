#include "carto/contour_ladders.h"

#include <algorithm>
#include <cmath>

namespace ledge::carto {
namespace {
constexpr double kApartMm = 70, kLongestMm = 45, kStepMm = 1;

// The height at a place of the grid between its points, and which way it rises.
struct Slope {
    double height = kNaN;
    Point up;
};
Slope slopeAt(const Grid<float>& heights, Point at) {
    const double c = at.x - 0.5, r = at.y - 0.5;
    if (!(c >= 1) || !(r >= 1) || !(c < double(heights.cols()) - 2) ||
        !(r < double(heights.rows()) - 2))
        return {};
    const auto col = static_cast<std::size_t>(c), row = static_cast<std::size_t>(r);
    const double u = c - std::floor(c), v = r - std::floor(r);
    const auto h = [&](std::size_t dr, std::size_t dc) {
        return static_cast<double>(heights(row + dr, col + dc));
    };
    Slope out;
    out.height =
        (h(0, 0) * (1 - u) + h(0, 1) * u) * (1 - v) + (h(1, 0) * (1 - u) + h(1, 1) * u) * v;
    out.up = {(h(0, 1) - h(0, 0)) * (1 - v) + (h(1, 1) - h(1, 0)) * v,
              (h(1, 0) - h(0, 0)) * (1 - u) + (h(1, 1) - h(0, 1)) * u};
    return out;
}
}  // namespace

Ladders::Ladders(const ContourField& field, const MapFrame& frame) : m_far(frame.mm(kFar)) {
    const auto toGrid = field.toPixels.inverse();
    if (!toGrid) return;
    // Seeds at round places of the map, so that a frame beside this one has the same.
    const double apart = frame.mm(kApartMm) * frame.unitsPerPx(), step = frame.mm(kStepMm);
    const Box extent = frame.extent().grown(apart);
    if (!(apart > 0) || !(extent.width() / apart < 1000) || !(extent.height() / apart < 1000))
        return;
    const Affine way = frame.toPixels();
    for (double y = std::floor(extent.yMin / apart) * apart; y < extent.yMax; y += apart)
        for (double x = std::floor(extent.xMin / apart) * apart; x < extent.xMax; x += apart) {
            const Point seed = way({x, y});
            for (const double direction : {1.0, -1.0}) climb(field, *toGrid, seed, step, direction);
        }
}

void Ladders::climb(const ContourField& field, const Affine& toGrid, Point from, double step,
                    double direction) {
    double last = kNaN;
    for (double done = 0; done < kLongestMm / kStepMm; ++done) {
        const Slope slope = slopeAt(field.heights, toGrid(from));
        const double steepness = std::hypot(slope.up.x, slope.up.y);
        // A top, a hollow or a flat ends it.
        if (!std::isfinite(slope.height) || !(steepness > 1e-9) ||
            (slope.height - last) * direction < 0)
            return;
        m_rungs.push_back(from);
        last = slope.height;
        from = from + slope.up * (direction * step / steepness);
    }
}

double Ladders::away(Point px) const {
    double nearest = m_far * m_far;
    for (const Point rung : m_rungs) {
        const Point d = rung - px;
        nearest = std::min(nearest, d.x * d.x + d.y * d.y);
    }
    return std::sqrt(nearest);
}

}  // namespace ledge::carto
