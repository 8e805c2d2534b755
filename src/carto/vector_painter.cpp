#include "carto/vector_painter.h"

#include <QPaintEngine>
#include <QPainterPath>

#include "carto/text.h"
#include "core/geometry/clip.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {
using doc::Look;

std::vector<Point> toPixels(std::span<const Point> points, const Affine& way) {
    std::vector<Point> out;
    out.reserve(points.size());
    Point last = kNowhere;
    for (const Point p : points) {
        const Point q = way(p);
        // Points closer than a quarter of a pixel to the last add nothing to see.
        if (!out.empty() && std::abs(q.x - last.x) + std::abs(q.y - last.y) < 0.25) continue;
        out.push_back(q);
        last = q;
    }
    if (points.size() > 1 && !out.empty()) {
        const Point end = way(points.back());
        if (out.back() != end) out.push_back(end);
    }
    return out;
}

void addLine(QPainterPath& path, std::span<const Point> line) {
    if (line.empty()) return;
    path.moveTo(qt(line[0]));
    for (const Point p : line.subspan(1)) path.lineTo(qt(p));
}

Box frameBox(const MapFrame& frame, double growPx) {
    return Box{0, 0, double(frame.widthPx), double(frame.heightPx)}.grown(growPx);
}

// Dashes begin where the line does, not where the frame cuts it.
void strokeDashed(QPainter& painter, const MapFrame& frame, const GeometryView& g,
                  const Affine& way, double grow, QPen pen) {
    const Box box = frameBox(frame, grow);
    for (std::size_t i = 0; i < g.partCount(); ++i)
        for (const LinePiece& piece : clippedPieces(toPixels(g.part(i), way), box)) {
            QPainterPath path;
            addLine(path, piece.points);
            pen.setDashOffset(piece.from / pen.widthF());
            painter.strokePath(path, pen);
        }
}

QPainterPath strokePathOf(const MapFrame& frame, const GeometryView& g, const Affine& way,
                          double grow) {
    QPainterPath path;
    const Box box = frameBox(frame, grow);
    for (std::size_t i = 0; i < g.partCount(); ++i)
        for (const auto& piece : clipLine(toPixels(g.part(i), way), box)) addLine(path, piece);
    return path;
}

QPainterPath fillPathOf(const MapFrame& frame, const GeometryView& g, const Affine& way,
                        double grow) {
    QPainterPath path;
    path.setFillRule(Qt::OddEvenFill);
    const Box box = frameBox(frame, grow);
    for (std::size_t i = 0; i < g.partCount(); ++i) {
        const auto ring = clipRing(toPixels(g.part(i), way), box);
        if (ring.empty()) continue;
        addLine(path, ring);
        path.closeSubpath();
    }
    return path;
}
}  // namespace

QPainterPath markPath(doc::Mark mark, double d) {
    QPainterPath path;
    const double r = d / 2;
    switch (mark) {
    case doc::Mark::Circle: path.addEllipse(QPointF(0, 0), r, r); break;
    case doc::Mark::Square: path.addRect(-r * 0.89, -r * 0.89, d * 0.89, d * 0.89); break;
    case doc::Mark::Triangle:
        path.addPolygon(QPolygonF({{0, -r * 1.15}, {r * 1.05, r * 0.75}, {-r * 1.05, r * 0.75}}));
        path.closeSubpath();
        break;
    case doc::Mark::Diamond:
        path.addPolygon(QPolygonF({{0, -r * 1.2}, {r * 1.2, 0}, {0, r * 1.2}, {-r * 1.2, 0}}));
        path.closeSubpath();
        break;
    }
    return path;
}

QPen penOf(const Look& look, double pxPerMm) {
    if (!look.hasStroke) return QPen(Qt::NoPen);
    QPen pen(qt(look.stroke), std::max(0.35, look.strokeMm * pxPerMm));
    pen.setJoinStyle(Qt::RoundJoin);
    pen.setCapStyle(look.dash == doc::Dash::Solid ? Qt::RoundCap : Qt::FlatCap);
    // Dash lengths in millimetres on paper, whatever the line's width.
    const double mm = pxPerMm / pen.widthF();
    switch (look.dash) {
    case doc::Dash::Solid: break;
    case doc::Dash::Dashes: pen.setDashPattern({1.7 * mm, 0.8 * mm}); break;
    case doc::Dash::Dots: pen.setDashPattern({0.35 * mm, 0.75 * mm}); break;
    case doc::Dash::DashDot: pen.setDashPattern({2.4 * mm, 0.7 * mm, 0.4 * mm, 0.7 * mm}); break;
    }
    return pen;
}

void drawMark(QPainter& painter, QPointF at, const Look& look, double pxPerMm) {
    painter.save();
    painter.translate(at);
    QPen ring(qt(look.stroke), std::max(0.5, look.strokeMm * pxPerMm));
    painter.setPen(look.hasStroke ? ring : QPen(Qt::NoPen));
    painter.setBrush(look.hasFill ? QBrush(qt(look.fill)) : QBrush(Qt::NoBrush));
    painter.drawPath(markPath(look.mark, look.markMm * pxPerMm));
    painter.restore();
}

void paintGeometry(QPainter& painter, const MapFrame& frame, const GeometryView& g,
                   const Look& look) {
    const Affine way = frame.toPixels();
    if (g.type == GeometryType::Point) {
        const Box box = frameBox(frame, frame.mm(look.markMm) + 2);
        for (const Point p : g.points)
            if (const Point at = way(p); box.contains(at))
                drawMark(painter, qt(at), look, frame.pxPerMm);
        return;
    }
    const double grow = frame.mm(look.strokeMm) + 4;
    if (g.type == GeometryType::Polygon && look.hasFill) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(qt(look.fill));
        painter.drawPath(fillPathOf(frame, g, way, grow));
    }
    if (look.hasStroke && look.strokeMm > 0) {
        painter.setBrush(Qt::NoBrush);
        const QPen pen = penOf(look, frame.pxPerMm);
        if (look.dash != doc::Dash::Solid) return strokeDashed(painter, frame, g, way, grow, pen);
        painter.setPen(pen);
        painter.drawPath(strokePathOf(frame, g, way, grow));
    }
}

namespace {
// What is smaller than a pixel shows as one: of a million fields on a screen each is a dot, and
// dots that fall on each other are drawn once.
class Specks {
public:
    Specks(QPainter& painter, const MapFrame& frame)
        : m_painter(painter), m_way(frame.toPixels()), m_width(frame.widthPx),
          m_height(frame.heightPx),
          m_isRaster(painter.paintEngine() &&
                     painter.paintEngine()->type() == QPaintEngine::Raster),
          m_side(1 / frame.unitsPerPx()) {}

    /// Whether it was drawn, or need not be.
    bool draw(const Box& box, GeometryType type, const Look& look) {
        if (!m_isRaster || type == GeometryType::Point ||
            std::max(box.width(), box.height()) * m_side >= 1)
            return false;
        const bool hasStroke = look.hasStroke && look.strokeMm > 0;
        if (!hasStroke && !(type == GeometryType::Polygon && look.hasFill)) return true;
        const Point at = m_way(box.centre());
        const int x = static_cast<int>(std::floor(at.x)), y = static_cast<int>(std::floor(at.y));
        if (x < 0 || y < 0 || x >= m_width || y >= m_height) return true;
        const QColor colour = qt(hasStroke ? look.stroke : look.fill);
        if (m_last.empty()) m_last.resize(static_cast<std::size_t>(m_width * m_height), 0);
        QRgb& last = m_last[static_cast<std::size_t>(y * m_width + x)];
        if (last == colour.rgba()) return true;
        last = colour.rgba();
        m_painter.fillRect(x, y, 1, 1, colour);
        return true;
    }

private:
    QPainter& m_painter;
    Affine m_way;
    int m_width, m_height;
    bool m_isRaster;
    double m_side;
    std::vector<QRgb> m_last;  ///< colour of the dot at a pixel
};
}  // namespace

Result<void> paintFeatures(QPainter& painter, const MapFrame& frame,
                           const doc::MapFeatures& features, const doc::VectorStyle& style,
                           const Progress& progress) {
    doc::LookFinder looks(style, *features.table);
    painter.setRenderHint(QPainter::Antialiasing);
    const double grow = frame.mm(5) * frame.unitsPerPx();
    std::size_t done = 0;
    Specks specks(painter, frame);
    for (const std::size_t i : features.index.meeting(frame.extent().grown(grow))) {
        if (++done % 256 == 0 && progress.stopped()) return cancelled("drawing");
        const GeometryView geometry = features.table->geometry(i);
        const Look& look = looks.lookOf(i);
        if (specks.draw(features.table->box(i), geometry.type, look)) continue;
        paintGeometry(painter, frame, geometry, look);
    }
    return {};
}

void paintOutline(QPainter& painter, const MapFrame& frame, const GeometryView& g) {
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    const Affine way = frame.toPixels();
    QPainterPath path;
    if (g.type == GeometryType::Point)
        for (const Point p : g.points) path.addEllipse(qt(way(p)), frame.mm(1.9), frame.mm(1.9));
    else
        path = strokePathOf(frame, g, way, 20);
    for (const auto& [colour, widthMm] :
         {std::pair{QColor(0xF6, 0xF6, 0xFB), 1.25}, std::pair{QColor(0xD9, 0x9A, 0x2B), 0.65}}) {
        QPen pen(colour, frame.mm(widthMm));
        pen.setJoinStyle(Qt::RoundJoin);
        pen.setCapStyle(Qt::RoundCap);
        painter.strokePath(path, pen);
    }
}

}  // namespace ledge::carto
