#include "carto/map_frame.h"

#include "core/crs/transformation.h"

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
    if (!crs) return 1;
    const Point ground = crs::groundUnits(crs, view.centre);
    const double mean = std::sqrt(ground.x * ground.y);
    return std::isfinite(mean) && mean > 0 ? mean : metresPerUnit(crs);
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

}  // namespace ledge::carto
