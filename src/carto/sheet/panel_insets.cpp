#include "carto/sheet/panel_insets.h"

#include <algorithm>

#include "carto/sheet/panel_frame.h"
#include "carto/text.h"
#include "core/crs/transformation.h"
#include "document/panels.h"

namespace ledge::carto {
namespace {
QRectF rectOf(const doc::SheetItem& item, double mm) {
    const doc::PageRect& r = item.rect;
    return {r.left * mm, r.top * mm, r.width * mm, r.height * mm};
}

// The two pairs of corners that do not lead across either box: those on the sides that face away.
std::vector<std::pair<QPointF, QPointF>> leaders(const QRectF& from, const QRectF& to) {
    std::vector<std::pair<QPointF, QPointF>> out;
    const QPointF way = to.center() - from.center();
    const bool isRising = way.x() * way.y() > 0;
    const auto corners = [&](const QRectF& r) {
        return isRising ? std::pair(r.topRight(), r.bottomLeft())
                        : std::pair(r.topLeft(), r.bottomRight());
    };
    out.emplace_back(corners(from).first, corners(to).first);
    out.emplace_back(corners(from).second, corners(to).second);
    return out;
}
}  // namespace

QPointF frameOrigin(const doc::SheetItem& item, const MapFrame& frame, double mm) {
    return rectOf(item, mm).center() - QPointF(frame.widthPx / 2.0, frame.heightPx / 2.0);
}

QPolygonF outlineOn(const MapFrame& host, const MapFrame& inset) {
    constexpr int kSteps = 24;
    const auto way = crs::Transformation::between(inset.crs, host.crs);
    if (!way) return {};
    const Affine map = inset.toMap(), pixels = host.toPixels();
    const double w = inset.widthPx, h = inset.heightPx;
    const Point corners[] = {{0, 0}, {w, 0}, {w, h}, {0, h}, {0, 0}};
    QPolygonF out;
    for (int side = 0; side < 4; ++side)
        for (int i = 0; i < kSteps; ++i) {
            const double t = static_cast<double>(i) / kSteps;
            const Point a = corners[side], b = corners[side + 1];
            const Point p = way->forward(map({a.x + (b.x - a.x) * t, a.y + (b.y - a.y) * t}));
            if (p.isFinite()) out << qt(pixels(p));
        }
    return out.size() < 3 ? QPolygonF() : out;
}

void paintInsets(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                 const doc::SheetItem& host, double mm) {
    const MapFrame frame = panelFrame(document, host, mm);
    const QRectF rect = rectOf(host, mm);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    for (const doc::SheetItem& item : sheet.items) {
        const auto* panel = item.as<doc::MapPanel>();
        if (!panel || panel->shownIn != host.id || item.id == host.id || item.isHidden) continue;
        QPolygonF outline = outlineOn(frame, panelFrame(document, item, mm));
        if (outline.isEmpty()) continue;
        outline.translate(frameOrigin(host, frame, mm));
        painter.save();
        painter.setClipRect(rect, Qt::IntersectClip);
        painter.setPen(QPen(QColor(255, 255, 255, 190), 1.1 * mm));
        painter.drawPolygon(outline);
        QPen pen(qt(panel->outline), 0.4 * mm);
        pen.setJoinStyle(Qt::MiterJoin);
        painter.setPen(pen);
        painter.drawPolygon(outline);
        // Too small to be seen, it is marked by a ring.
        if (outline.boundingRect().width() < 1.5 * mm)
            painter.drawEllipse(outline.boundingRect().center(), 1.4 * mm, 1.4 * mm);
        painter.restore();
        const QRectF seen = outline.boundingRect().intersected(rect);
        if (!panel->hasLeaders || seen.isEmpty()) continue;
        painter.setPen(QPen(qt(panel->outline), 0.2 * mm));
        for (const auto& [from, to] : leaders(seen, rectOf(item, mm))) painter.drawLine(from, to);
    }
    painter.restore();
}

std::optional<QPainterPath> panelShape(const doc::Document& document, const doc::MapPanel& panel,
                                       const MapFrame& frame, const doc::DrawingData& data) {
    const doc::Layer* layer = panel.shapedBy ? document.layer(panel.shapedBy) : nullptr;
    const doc::SourceRef* source = layer ? document.source(layer->source) : nullptr;
    if (!source || !layer->as<doc::VectorLayer>()) return {};
    const auto features = data.features(doc::readBy(*layer, *source), frame.crs, frame.tolerance());
    if (!features) return {};
    const Affine way = frame.toPixels();
    QPainterPath out;
    bool hasAreas = false;
    for (const std::size_t row : (*features)->index.meeting(frame.extent())) {
        const GeometryView shape = (*features)->shapeOf(row, frame.unitsPerPx());
        if (shape.type != GeometryType::Polygon) continue;
        hasAreas = true;
        QPainterPath one;
        for (std::size_t i = 0; i < shape.partCount(); ++i) {
            QPolygonF ring;
            for (const Point p : shape.part(i)) ring << qt(way(p));
            one.addPolygon(ring);
            one.closeSubpath();
        }
        out = out.isEmpty() ? one : out.united(one);
    }
    if (!hasAreas && (*features)->table->info.geometry != GeometryType::Polygon) return {};
    return out;
}

}  // namespace ledge::carto
