#include "document/map_crs.h"

#include <cmath>

#include "core/crs/datum_choices.h"
#include "core/crs/ground_metric.h"
#include "core/crs/transformation.h"

namespace ledge::doc {
namespace {
// Metres of ground for one metre of the CRS's own reckoning.
double groundFactor(const crs::CrsPtr& crs, Point at) {
    if (!crs) return 1;
    const auto metric = crs::groundMetrics(crs, std::span(&at, 1)).front();
    const double factor = std::sqrt(metric.area()) / crs->metresPerUnit();
    return metric.isFinite() && factor > 1e-6 ? factor : 1;
}
}  // namespace

crs::CrsPtr crsIn(const Document& document, const std::string& text) {
    return crs::withChoices(crs::parseCrs(text).value_or(nullptr), document.datumChoices);
}

double groundScale(const MapView& view, const crs::CrsPtr& crs) {
    return view.scale * groundFactor(crs, view.centre);
}

MapView atGroundScale(MapView view, const crs::CrsPtr& crs, double denominator) {
    view.scale = denominator / groundFactor(crs, view.centre);
    return view;
}

MapView viewOf(const MapPanel& panel) { return {panel.centre, panel.scale, panel.rotation}; }

double groundScale(const MapPanel& panel, const crs::CrsPtr& crs) {
    return groundScale(viewOf(panel), crs);
}

void setGroundScale(MapPanel& panel, const crs::CrsPtr& crs, double denominator) {
    panel.scale = atGroundScale(viewOf(panel), crs, denominator).scale;
}

MapView viewInCrs(const MapView& view, const crs::CrsPtr& from, const crs::CrsPtr& to) {
    const auto way = crs::Transformation::between(from, to);
    if (!way || way->isIdentity()) return view;
    const Point centre = way->forward(view.centre);
    if (!centre.isFinite()) return view;
    MapView out = view;
    out.centre = centre;
    return atGroundScale(out, to, groundScale(view, from));
}

}  // namespace ledge::doc
