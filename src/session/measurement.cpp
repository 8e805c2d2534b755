#include "session/measurement.h"

#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/geometry/measure.h"
#include "core/geometry/shaping.h"
#include "core/globe/mapping.h"

namespace ledge::session {
namespace {
constexpr double kCurveStepMetres = 20000;
constexpr double kCurveTolerance = 100;  // metres

// Positions on the map's own datum, so that no datum operation takes part in a measurement.
std::vector<Point> onEllipsoid(const crs::CrsPtr& mapCrs, std::span<const Point> points) {
    std::vector<Point> out(points.begin(), points.end());
    crs::Crs base = crs::geographicBase(*mapCrs);
    const auto way = crs::Transformation::between(mapCrs, std::make_shared<crs::Crs>(base));
    if (way) way->forward(out);
    return out;
}

double bearingOf(Point from, Point to) {
    return std::atan2(to.x - from.x, to.y - from.y) / crs::kRadiansPerDegree;
}
}  // namespace

Measurement measure(const crs::CrsPtr& mapCrs, std::span<const Point> points, bool isArea) {
    Measurement out;
    out.isArea = isArea && points.size() >= 3;
    if (points.size() < 2) return out;
    const Point from = points[points.size() - 2], to = points.back();
    const bool isPlane = !mapCrs || !mapCrs->isGeographic();
    if (isPlane) {
        const double unit = mapCrs ? mapCrs->unit.size : 1;
        out.planarLength = 0;
        for (std::size_t i = 1; i < points.size(); ++i)
            out.planarLength += distance(points[i - 1], points[i]) * unit;
        if (out.isArea) out.planarLength += distance(points.back(), points.front()) * unit;
        out.lastPlanar = distance(from, to) * unit;
        if (out.lastPlanar > 0) out.gridBearing = bearingOf(from, to);
        if (out.isArea) out.planarArea = std::abs(signedArea(points)) * unit * unit;
    }
    if (!mapCrs) return out;
    const crs::Geodesic geodesic(mapCrs->ellipsoid);
    const auto there = onEllipsoid(mapCrs, points);
    const auto last = geodesic.inverse(there[there.size() - 2], there.back());
    out.lastEllipsoidal = last.distance;
    if (last.distance > 0) out.bearing = last.bearingStart;
    if (isPlane && last.distance > 0) out.scaleFactor = out.lastPlanar / last.distance;
    if (out.isArea) {
        const auto ring = geodesic.polygon(there);
        out.ellipsoidalArea = std::abs(ring.area);
        out.ellipsoidalLength = ring.perimeter;
    } else {
        out.ellipsoidalLength = 0;
        for (std::size_t i = 1; i < there.size(); ++i)
            out.ellipsoidalLength += geodesic.inverse(there[i - 1], there[i]).distance;
    }
    return out;
}

TrueCourse trueCourse(const crs::CrsPtr& mapCrs, std::span<const Point> points, bool isClosed) {
    TrueCourse out;
    std::vector<Point> corners(points.begin(), points.end());
    if (isClosed && !corners.empty()) corners.push_back(corners.front());
    if (!mapCrs || corners.size() < 2) {
        if (isClosed && corners.size() > 2) out.area = Geometry::polygon({corners});
        out.lines.push_back(std::move(corners));
        return out;
    }
    const crs::Geodesic geodesic(mapCrs->ellipsoid);
    const auto degrees = std::make_shared<crs::Crs>(crs::geographicBase(*mapCrs));
    const auto mapper =
        globe::Mapper::between(degrees, mapCrs, kCurveTolerance / mapCrs->metresPerUnit());
    corners = onEllipsoid(mapCrs, corners);
    std::erase_if(corners, [](Point p) { return !p.isFinite(); });
    if (!mapper || corners.size() < 2) return out;
    std::vector<Point> curve{corners.front()};
    for (std::size_t i = 1; i < corners.size(); ++i) {
        const auto part = geodesic.densified(corners[i - 1], corners[i], kCurveStepMetres);
        curve.insert(curve.end(), part.begin() + 1, part.end());
    }
    globe::Mapper::Scratch scratch;
    std::vector<std::uint8_t> seams;
    Geometry image;
    mapper->map(Geometry::line(curve), image, seams, scratch);
    for (std::size_t k = 0; k < image.partCount(); ++k)
        out.lines.emplace_back(image.part(k).begin(), image.part(k).end());
    if (isClosed) mapper->map(Geometry::polygon({curve}), out.area, seams, scratch);
    return out;
}

std::optional<Point> snappedTo(const doc::Document& document, const SourceCache& cache,
                               const crs::CrsPtr& mapCrs, Point at, double reach,
                               const std::optional<InHand>& inHand) {
    std::optional<Touched> best;
    Box box;
    box.add(at);
    box = box.grown(reach);
    for (const auto& one : doc::drawnLayers(document.layers)) {
        const doc::SourceRef* source = document.source(one.layer->source);
        if (!one.layer->as<doc::VectorLayer>() || !source) continue;
        const auto features = cache.features(doc::readBy(*one.layer, *source), mapCrs);
        if (!features) continue;
        const FeatureTable& table = *(*features)->table;
        const bool hasHand = inHand && inHand->source == source->id;
        for (const std::size_t i : (*features)->index.meeting(box)) {
            if (hasHand && table.key(i) == inHand->key) continue;
            const auto touched = touchedAt(table.geometry(i), at, reach);
            if (!touched) continue;
            const bool isBetter =
                !best || (touched->isVertex == best->isVertex ? touched->distance < best->distance
                                                              : touched->isVertex);
            if (isBetter) best = touched;
        }
    }
    return best ? std::optional(best->at) : std::nullopt;
}

FeatureTable measurementTable(const crs::CrsPtr& mapCrs, std::span<const Point> points,
                              const Measurement& m) {
    FeatureList out;
    out.info.name = m.isArea ? "Measured area" : "Measured path";
    out.info.crs = mapCrs;
    out.info.geometry = m.isArea ? GeometryType::Polygon : GeometryType::Line;
    out.info.fields = {{"length_m", FieldType::Real}, {"planar_length_m", FieldType::Real}};
    Feature feature;
    feature.id = 1;
    const auto value = [](double v) { return std::isfinite(v) ? Value(v) : Value(); };
    feature.values = {value(m.ellipsoidalLength), value(m.planarLength)};
    if (m.isArea) {
        out.info.fields.push_back({"area_m2", FieldType::Real});
        out.info.fields.push_back({"planar_area_m2", FieldType::Real});
        feature.values.push_back(value(m.ellipsoidalArea));
        feature.values.push_back(value(m.planarArea));
    }
    std::vector<Point> line(points.begin(), points.end());
    feature.geometry = m.isArea ? Geometry::polygon({line}) : Geometry::line(line);
    out.features.push_back(std::move(feature));
    return FeatureTable(std::move(out));
}

}  // namespace ledge::session
