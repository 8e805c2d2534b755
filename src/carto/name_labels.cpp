#include "carto/name_labels.h"

#include "core/geometry/clip.h"
#include "core/geometry/measure.h"

namespace ledge::carto {
namespace {
double sizeFactor(double rank) { return rank >= 3 ? 1.4 : (rank >= 2 ? 1.15 : 1.0); }

// The longest piece of a line on the frame, in pixels.
std::vector<Point> visiblePart(const GeometryView& g, const MapFrame& frame) {
    const Affine way = frame.toPixels();
    const Box page{0, 0, double(frame.widthPx), double(frame.heightPx)};
    std::vector<Point> best;
    double bestLength = 0;
    for (std::size_t i = 0; i < g.partCount(); ++i) {
        std::vector<Point> line;
        for (const Point p : g.part(i)) line.push_back(way(p));
        for (auto& piece : clipLine(line, page)) {
            double length = 0;
            for (std::size_t k = 1; k < piece.size(); ++k)
                length += distance(piece[k - 1], piece[k]);
            if (length <= bestLength) continue;
            bestLength = length;
            best = std::move(piece);
        }
    }
    // Letters need a calm baseline.
    return smoothed(simplified(best, frame.mm(0.4)), 2);
}

// Of several polygons the one of which most is seen.
Geometry largestSeen(const GeometryView& g, const Box& frame) {
    Geometry out;
    out.type = GeometryType::Polygon;
    std::size_t best = 0;
    double most = -1;
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const double area = std::abs(signedArea(clipRing(g.part(g.polygons[p]), frame)));
        if (area > most) most = area, best = p;
    }
    const std::size_t end = best + 1 < g.polygons.size() ? g.polygons[best + 1] : g.partCount();
    for (std::size_t i = g.polygons[best]; i < end; ++i) out.addPart(g, i, i == g.polygons[best]);
    return out;
}
}  // namespace

void NameLabels::pin(label::Key key, const std::vector<Box>& boxes) {
    m_scene.add({key, {}, label::Candidate{{}, 0, boxes, 0}});
}

void NameLabels::add(const doc::MapFeatures& features, const doc::VectorLayer& layer, doc::Id id) {
    const doc::LabelStyle& labels = layer.labels;
    const FeatureTable& table = *features.table;
    const int name = table.fieldIndex(labels.field), rank = table.fieldIndex(labels.rankField);
    const bool inScale = labels.widestScale <= 0 || m_frame.groundScale() <= labels.widestScale;
    const bool isLabelled = labels.isOn && name >= 0 && inScale;
    const Affine way = m_frame.toPixels();
    const double radius = m_frame.mm(layer.style.look.markMm / 2);
    for (const std::size_t i : features.index.meeting(m_frame.extent())) {
        const FeatureView feature = table[i];
        if (feature.geometry.type == GeometryType::Point)
            for (const Point p : feature.geometry.points) {
                const Point at = way(p);
                m_scene.avoid(Box{at.x, at.y, at.x, at.y}.grown(radius * 0.7));
            }
        if (!isLabelled) continue;
        const Value value = feature.value(static_cast<std::size_t>(name));
        if (isMissing(value)) continue;
        const double rankValue = rank >= 0 ? feature.number(static_cast<std::size_t>(rank)) : 1;
        addName(feature, QString::fromStdString(displayText(value)),
                std::isfinite(rankValue) ? rankValue : 0, layer, id);
    }
}

void NameLabels::addName(const FeatureView& feature, const QString& name, double rank,
                         const doc::VectorLayer& layer, doc::Id id) {
    const doc::LabelStyle& labels = layer.labels;
    TextStyle style{labels.sizePt * sizeFactor(rank),
                    labels.isBold,
                    labels.isItalic,
                    labels.colour,
                    labels.hasHalo,
                    0};
    if (feature.geometry.type == GeometryType::Polygon) style.letterSpacing = 0.08;
    const label::TextSize size = measure(name, style, m_frame.pxPerMm);
    const Affine way = m_frame.toPixels();
    label::Request request;
    request.rank = rank;
    request.size = style.sizePt;
    switch (feature.geometry.type) {
    case GeometryType::Point:
        request.candidates =
            label::aroundPoint(way(feature.geometry.points.front()),
                               m_frame.mm(layer.style.look.markMm / 2 + 0.5), size);
        break;
    case GeometryType::Line:
        request.candidates =
            label::alongLine(visiblePart(feature.geometry, m_frame), size, m_frame.mm(4), false);
        // Above the line.
        for (label::Candidate& c : request.candidates) {
            const double lift = size.ascent / 2 + m_frame.mm(0.6);
            const Point up{std::sin(c.angleRadians) * lift, -std::cos(c.angleRadians) * lift};
            c.origin = c.origin + up;
            for (Box& box : c.boxes)
                box = {box.xMin + up.x, box.yMin + up.y, box.xMax + up.x, box.yMax + up.y};
        }
        break;
    case GeometryType::Polygon: {
        const bool isMulti = feature.geometry.polygons.size() > 1;
        const Geometry part =
            isMulti ? largestSeen(feature.geometry, m_frame.extent()) : Geometry();
        const GeometryView seen = isMulti ? GeometryView(part) : feature.geometry;
        const double room = seen.box().width() / m_frame.unitsPerPx();
        if (room > size.width * 0.7)
            request.candidates = label::centredOn(way(anchorOf(seen)), size);
        break;
    }
    case GeometryType::None: return;
    }
    if (request.candidates.empty()) return;
    const std::size_t wish = m_scene.add({{id, feature.id, 0}, std::move(request), {}});
    m_names[wish] = {name, style};
}

NameLabels::Count NameLabels::paint(QPainter& painter) const {
    Count count;
    for (const label::Scene::Placed& placed : m_scene.place()) {
        const auto name = m_names.find(placed.wish);
        if (name == m_names.end()) continue;
        ++count.placed;
        drawText(painter, placed.at.origin, placed.at.angleRadians, name->second.text,
                 name->second.style, m_frame.pxPerMm);
    }
    count.withoutRoom = static_cast<int>(m_names.size()) - count.placed;
    return count;
}

}  // namespace ledge::carto
