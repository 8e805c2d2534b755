#include "session/probe.h"

#include <algorithm>
#include <set>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/geometry/measure.h"
#include "core/globe/ground_measure.h"
#include "core/query/row_values.h"

namespace ledge::session {
namespace {
// Of what was derived here the unit is known.
std::string derivedUnit(const doc::SourceRef& source) {
    if (!source.lineage) return {};
    const auto& [operation, inputs, parameters, remarks] = *source.lineage;
    const auto unit = parameters.find("unit");
    if (operation == "slope" && unit != parameters.end() && unit->second == "percent") return " %";
    return operation == "slope" || operation == "aspect" ? "°" : "";
}

std::string valueText(double value, const doc::SourceRef& source, bool isHeight) {
    if (!std::isfinite(value)) return "no data";
    const std::string unit = !isHeight                                    ? derivedUnit(source)
                             : source.heightUnit == doc::HeightUnit::Foot ? " ft"
                                                                          : " m";
    const int decimals = std::abs(value) < 10 && unit.empty() ? 3 : 1;
    return formatNumber(value, {decimals, true}) + unit;
}

double valueAtMap(const Pyramid& pyramid, const crs::CrsPtr& mapCrs, Point at) {
    const auto way = crs::Transformation::between(pyramid.source().info().crs, mapCrs);
    return way ? valueAt(pyramid.source(), pyramid.band(), way->inverse(at)) : kNaN;
}

int bandOf(const doc::Layer& layer) {
    const auto* raster = layer.as<doc::RasterLayer>();
    return !raster ? 0 : raster->style.image ? raster->style.image->bands[0] : raster->style.band;
}

// The name of the class a value stands for; empty for none.
std::string className(const doc::Layer& layer, double value) {
    if (const auto* raster = layer.as<doc::RasterLayer>())
        for (const doc::RasterClass& one : raster->style.classes)
            if (one.value == value) return one.name;
    return {};
}

// Lengths and areas as one would measure them.
std::vector<std::pair<std::string, std::string>>
measuresOf(const GeometryView& shape, const globe::GroundMeasure& ground, LengthUnit unit) {
    std::vector<std::pair<std::string, std::string>> out;
    const bool isArea = shape.type == GeometryType::Polygon;
    if (!isArea && shape.type != GeometryType::Line) return out;
    const double length = ground.length(shape);
    if (isArea) out.emplace_back("area", formatArea(ground.area(shape), unit));
    if (std::isfinite(length))
        out.emplace_back(isArea ? "perimeter" : "length", formatLength(length, unit));
    return out;
}

void probeFeatures(const doc::Layer& layer, const doc::MapFeatures& features, Point at,
                   double tolerance, LengthUnit unit, std::vector<ProbeHit>& out) {
    const FeatureTable& table = *features.table;
    const globe::GroundMeasure ground(table.info.crs);
    const std::string naming = layer.as<doc::VectorLayer>()->naming();
    std::optional<query::RowValues> names;
    if (auto read = query::RowValues::of(naming, table); read && !naming.empty())
        names = *std::move(read);
    Box box;
    box.add(at);
    for (const std::size_t i : features.index.meeting(box.grown(tolerance))) {
        const FeatureView feature = table[i];
        if (distanceTo(feature.geometry, at) > tolerance) continue;
        ProbeHit hit;
        hit.layer = layer.id;
        hit.layerName = layer.name;
        hit.source = layer.source;
        hit.feature = feature.id;
        hit.outline = feature.geometry.toGeometry();
        const auto seams = features.seamsOf(i);
        hit.seams.assign(seams.begin(), seams.end());
        hit.measures = measuresOf(feature.geometry, ground, unit);
        const Value name = names ? names->value(i) : Value();
        hit.title = isMissing(name) ? "Feature " + std::to_string(feature.id) : displayText(name);
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            hit.values.emplace_back(table.info.fields[k].name, displayText(feature.value(k)));
        out.push_back(std::move(hit));
    }
}
}  // namespace

std::vector<ProbeHit> probe(const doc::Document& document, const SourceCache& cache,
                            const crs::CrsPtr& mapCrs, Point at, double tolerance, doc::Id only) {
    std::vector<ProbeHit> out;
    auto layers = doc::drawnLayers(document.layers);
    if (only != 0) {
        layers.clear();
        for (const doc::LayerPtr& layer : doc::allLayers(document.layers))
            if (layer->id == only) layers.push_back({layer, 1});
    }
    std::set<doc::Id> rastersDone;
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        const doc::SourceRef* source = document.source(layer.source);
        if (!source) continue;
        if (layer.as<doc::VectorLayer>()) {
            const auto features = cache.features(doc::readBy(layer, *source), mapCrs);
            if (features)
                probeFeatures(layer, **features, at, tolerance, document.display.lengths, out);
            continue;
        }
        if (!rastersDone.insert(source->id).second) continue;
        const auto pyramid = cache.raster(*source, bandOf(layer));
        if (!pyramid) continue;
        const double value = valueAtMap(**pyramid, mapCrs, at);
        if (!std::isfinite(value)) continue;
        ProbeHit hit;
        hit.number = value;
        hit.layer = layer.id;
        hit.layerName = source->name;
        const std::string name = className(layer, value);
        hit.title = name.empty() ? valueText(value, *source, layer.readsHeights()) : name;
        hit.values = {{layer.readsHeights() ? "height"
                       : name.empty()       ? "value"
                                            : "class",
                       hit.title}};
        out.push_back(std::move(hit));
    }
    // What is smallest under the pointer comes first: points, lines, areas, then rasters.
    const auto order = [](const ProbeHit& hit) {
        return hit.outline.isEmpty() ? 9 : static_cast<int>(hit.outline.type);
    };
    std::stable_sort(out.begin(), out.end(),
                     [&](const ProbeHit& a, const ProbeHit& b) { return order(a) < order(b); });
    return out;
}

std::vector<std::pair<std::string, std::string>> rasterValues(const doc::Document& document,
                                                              const SourceCache& cache,
                                                              const crs::CrsPtr& mapCrs, Point at) {
    std::vector<std::pair<std::string, std::string>> out;
    std::set<doc::Id> done;
    auto layers = doc::drawnLayers(document.layers);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        const doc::SourceRef* source = document.source(layer.source);
        if (!source || layer.as<doc::VectorLayer>() || !done.insert(source->id).second) continue;
        const auto pyramid = cache.raster(*source, bandOf(layer));
        if (!pyramid) continue;
        const double value = valueAtMap(**pyramid, mapCrs, at);
        const std::string name = className(layer, value);
        if (std::isfinite(value))
            out.emplace_back(source->name,
                             name.empty() ? valueText(value, *source, layer.readsHeights()) : name);
    }
    return out;
}

std::string positionText(const crs::CrsPtr& crs, Point at, const doc::Display& display) {
    const auto number = [](double v, int decimals) { return formatNumber(v, {decimals, true}); };
    const Point lonLat = crs::toLonLat(crs, at);
    std::string degrees;
    if (lonLat.isFinite())
        degrees = display.coordinates == CoordinateForm::DecimalDegrees
                      ? number(lonLat.y, 6) + "°  " + number(lonLat.x, 6) + "°"
                      : formatDegrees(lonLat.y, true) + "  " + formatDegrees(lonLat.x, false);
    const bool isGeographic = crs && crs->isGeographic();
    const bool wantsMap = display.coordinates == CoordinateForm::MapUnits || degrees.empty();
    if (!wantsMap) return degrees;
    if (isGeographic) return degrees.empty() ? number(at.x, 5) + "  " + number(at.y, 5) : degrees;
    std::string unit;
    if (crs) unit = crs->unit.size == 1 ? " m" : " " + crs->unit.name;
    const std::string map = std::string(crs && crs->isWestward ? "W " : "E ") + number(at.x, 1) +
                            (crs && crs->isSouthward ? "  S " : "  N ") + number(at.y, 1) + unit;
    return degrees.empty() ? map : map + "   ·   " + degrees;
}

}  // namespace ledge::session
