#include "carto/map_frame.h"

#include <cmath>
#include <limits>

#include "core/base/numbers.h"
#include "core/crs/ground_metric.h"
#include "core/crs/transformation.h"
#include "core/globe/around.h"
#include "document/map_crs.h"

namespace ledge::carto {
namespace {
double metresPerUnit(const crs::CrsPtr& crs) { return crs ? crs->metresPerUnit() : 1.0; }
}  // namespace

double MapFrame::unitsPerPx() const { return view.scale / 1000 / pxPerMm / metresPerUnit(crs); }

Affine MapFrame::toPixels() const {
    const double k = 1 / unitsPerPx(), turn = view.rotation * crs::kRadiansPerDegree;
    const double c = std::cos(turn) * k, s = std::sin(turn) * k;
    const Point o = view.centre;
    return {c, s, widthPx / 2.0 - c * o.x - s * o.y, s, -c, heightPx / 2.0 - s * o.x + c * o.y};
}

Affine MapFrame::toMap() const { return toPixels().inverse().value_or(Affine{}); }

Box MapFrame::extent() const {
    const Affine map = toMap();
    Box box;
    const double w = widthPx, h = heightPx;
    for (const Point corner : {Point{0, 0}, Point{w, 0}, Point{0, h}, Point{w, h}})
        box.add(map(corner));
    return box;
}

TargetGrid MapFrame::grid(int rim) const {
    return {static_cast<std::size_t>(heightPx + 2 * rim),
            static_cast<std::size_t>(widthPx + 2 * rim),
            toMap().after({1, 0, static_cast<double>(-rim), 0, 1, static_cast<double>(-rim)})};
}

double MapFrame::groundMetresPerUnit() const {
    return groundScale() / view.scale * metresPerUnit(crs);
}

double MapFrame::groundScale() const { return doc::groundScale(view, crs); }

double MapFrame::scaleVariation() const {
    if (!crs) return 0;
    constexpr int kSteps = 4;
    std::vector<Point> places;
    const Affine map = toMap();
    for (int r = 0; r <= kSteps; ++r)
        for (int c = 0; c <= kSteps; ++c)
            places.push_back(map({widthPx * c / double(kSteps), heightPx * r / double(kSteps)}));
    double low = std::numeric_limits<double>::infinity(), high = 0;
    for (const crs::GroundMetric& metric : crs::groundMetrics(crs, places)) {
        if (!metric.isFinite()) continue;
        low = std::min(low, std::sqrt(metric.area()));
        high = std::max(high, std::sqrt(metric.area()));
    }
    return low > 0 && high > 0 ? high / low - 1 : 0;
}

std::string MapFrame::scaleText() const {
    const std::string scale = formatScale(shownScale(groundScale()));
    if (scaleVariation() <= 0.01) return scale;
    const Point middle = crs::toLonLat(crs, view.centre);
    if (!middle.isFinite()) return scale + " in the middle";
    return scale + " at " + formatNumber(std::abs(middle.y), {1, false}) + "°" +
           (middle.y < 0 ? " S" : " N");
}

doc::MapView viewOf(const Box& box, const crs::CrsPtr& crs, int widthPx, int heightPx,
                    double pxPerMm) {
    doc::MapView view;
    if (box.isEmpty() || widthPx <= 0 || heightPx <= 0) return view;
    view.centre = box.centre();
    const double perPx = std::max(box.width() / widthPx, box.height() / heightPx) * 1.06;
    view.scale = perPx * pxPerMm * 1000 * metresPerUnit(crs);
    if (!(view.scale > 1e-3)) view.scale = 1000;  // a single point
    return view;
}

doc::MapView zoomedAt(const MapFrame& frame, QPointF pixel, double factor) {
    doc::MapView view = frame.view;
    view.scale = std::clamp(view.scale * factor, 1.0, 1e9);
    MapFrame next = frame;
    next.view = view;
    const Point at{pixel.x(), pixel.y()};
    const Point moved = next.toMap()(at) - frame.toMap()(at);
    view.centre = view.centre - moved;
    return view;
}

doc::MapView panned(const MapFrame& frame, QPointF by) {
    doc::MapView view = frame.view;
    view.centre = frame.toMap()({frame.widthPx / 2.0 - by.x(), frame.heightPx / 2.0 - by.y()});
    return view;
}

std::vector<MapFrame> turnsOf(const MapFrame& frame) {
    const Box turn = globe::turnBox(frame.crs);
    if (!(turn.width() > 0) || frame.extent().width() > turn.width()) return {frame};
    std::vector<MapFrame> out;
    for (const double away : {0.0, -1.0, 1.0}) {
        MapFrame one = frame;
        one.view.centre = globe::intoTurn(frame.crs, frame.view.centre);
        one.view.centre.x += away * turn.width();
        const Box seen = one.extent();
        if (away == 0 || (seen.xMax > turn.xMin && seen.xMin < turn.xMax)) out.push_back(one);
    }
    return out;
}

}  // namespace ledge::carto
