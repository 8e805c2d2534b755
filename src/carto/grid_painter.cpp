#include "carto/grid_painter.h"

#include <QLineF>
#include <QPainterPath>

#include "carto/globe_outline.h"
#include "carto/text.h"
#include "core/base/numbers.h"
#include "core/globe/grid_lines.h"

namespace ledge::carto {
namespace {
constexpr double kApartMm = 30;
constexpr double kLabelInsetMm = 1.2;

struct Crossing {
    QPointF at;
    double angle = 0;  ///< of the line there, radians, -pi/2 to pi/2
};

// Where a polyline first crosses a horizontal or vertical line within a rectangle.
std::optional<Crossing> crossing(const QPolygonF& line, const QRectF& inside, bool isHorizontal,
                                 double level) {
    for (int i = 1; i < line.size(); ++i) {
        const QPointF a = line[i - 1], b = line[i];
        const double from = isHorizontal ? a.y() : a.x(), to = isHorizontal ? b.y() : b.x();
        if ((from - level) * (to - level) > 0 || from == to) continue;
        const QPointF p = a + (b - a) * ((level - from) / (to - from));
        if (!inside.contains(p)) continue;
        double angle = std::atan2(b.y() - a.y(), b.x() - a.x());
        if (angle > crs::kPi / 2) angle -= crs::kPi;
        if (angle < -crs::kPi / 2) angle += crs::kPi;
        return Crossing{p, angle};
    }
    return {};
}

QString labelOf(const globe::GridLine& line, const crs::CrsPtr& grid, double interval) {
    if (grid && grid->isGeographic())
        return QString::fromStdString(globe::graticuleLabel(line.value, !line.isConstantX));
    const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(interval) - 1e-9)));
    return QString::fromStdString(formatNumber(line.value, {decimals, true}));
}

class LabelPainter {
public:
    LabelPainter(QPainter& painter, const MapFrame& frame, const doc::GridStyle& style,
                 const GlobeOutline& globe)
        : m_painter(painter), m_frame(frame),
          m_globe(globe.isBeyond() ? QPainterPath() : globe.area()),
          m_style{style.labelPt, false, false, style.colour, true, 0},
          m_rect(0, 0, frame.widthPx, frame.heightPx) {}

    // Meridians and eastings at the foot, parallels and northings at the right: where they cross
    // those edges, else the opposite ones. A turned map may cross the other pair. Lines that end at
    // the edge of the globe are named outside of it, at each end. Whether there was room.
    bool draw(const globe::GridLine& line, const std::vector<QPolygonF>& pieces,
              const QString& text) {
        const auto size = measure(text, m_style, m_frame.pxPerMm);
        const double inset = m_frame.mm(kLabelInsetMm) + size.ascent;
        const std::array<std::pair<bool, double>, 4> edges =
            line.isConstantX
                ? std::array<std::pair<bool, double>, 4>{{{true, m_rect.bottom() - inset},
                                                          {true, m_rect.top() + inset},
                                                          {false, m_rect.left() + inset},
                                                          {false, m_rect.right() - inset}}}
                : std::array<std::pair<bool, double>, 4>{{{false, m_rect.right() - inset},
                                                          {false, m_rect.left() + inset},
                                                          {true, m_rect.top() + inset},
                                                          {true, m_rect.bottom() - inset}}};
        for (const auto& [isHorizontal, level] : edges)
            for (const QPolygonF& piece : pieces)
                if (const auto at = crossing(piece, m_rect, isHorizontal, level);
                    at && isOnGlobe(at->at) && put(*at, text, size, isHorizontal, level))
                    return true;
        bool isNamed = false;
        if (!m_globe.isEmpty())
            for (const QPolygonF& piece : pieces) {
                if (piece.size() < 2) continue;
                isNamed |= putOutside(piece[0], piece[0] - piece[1], text, size);
                isNamed |=
                    putOutside(piece.back(), piece.back() - piece[piece.size() - 2], text, size);
            }
        return isNamed;
    }

    // Just above where a line crosses another.
    void drawAcross(const std::vector<QPolygonF>& pieces, const std::vector<QPolygonF>& other,
                    const QString& text) {
        const auto size = measure(text, m_style, m_frame.pxPerMm);
        for (const QPolygonF& a : pieces)
            for (const QPolygonF& b : other)
                for (int i = 1; i < a.size(); ++i)
                    for (int k = 1; k < b.size(); ++k) {
                        QPointF at;
                        const QLineF side(a[i - 1], a[i]), across(b[k - 1], b[k]);
                        if (side.intersects(across, &at) != QLineF::BoundedIntersection) continue;
                        place(at + QPointF(-size.width / 2, -m_frame.mm(0.6)), text, size);
                        return;
                    }
    }

private:
    bool isOnGlobe(QPointF at) const { return m_globe.isEmpty() || m_globe.contains(at); }

    // Beyond the end of a line, if that is at the edge of the globe: upright, on the far side.
    bool putOutside(QPointF end, QPointF along, const QString& text, const label::TextSize& size) {
        const double length = std::hypot(along.x(), along.y());
        if (!(length > 0) || !m_rect.contains(end)) return false;
        const QPointF out = along / length;
        if (m_globe.contains(end + out * m_frame.mm(0.3)) ||
            !m_globe.contains(end - out * m_frame.mm(0.3)))
            return false;
        // A line along the edge ends nowhere.
        const QPointF back = end - out * m_frame.mm(0.3),
                      aside = QPointF(-out.y(), out.x()) * m_frame.mm(0.08);
        if (!m_globe.contains(back + aside) || !m_globe.contains(back - aside)) return false;
        const QPointF anchor = end + out * m_frame.mm(1);
        const QPointF origin{anchor.x() - size.width * (0.5 - 0.5 * out.x()),
                             anchor.y() + size.ascent * (0.5 + 0.5 * out.y()) * 0.9};
        return place(origin, text, size);
    }
    bool place(QPointF origin, const QString& text, const label::TextSize& size) {
        const QRectF box(origin.x() - 2, origin.y() - size.ascent, size.width + 4, size.ascent + 2);
        if (!m_rect.contains(box)) return false;
        for (const QRectF& taken : m_taken)
            if (taken.intersects(box)) return false;
        m_taken.push_back(box);
        drawText(m_painter, {origin.x(), origin.y()}, 0, text, m_style, m_frame.pxPerMm);
        return true;
    }
    bool put(const Crossing& at, const QString& text, const label::TextSize& size,
             bool isHorizontal, double level) {
        // Along the line, just above it; the text lies on the map side of the edge.
        const double c = std::cos(at.angle), s = std::sin(at.angle);
        double along = -size.width / 2;
        if (!isHorizontal)
            along = (level > m_rect.center().x()) ? -size.width : 0;
        else if (std::abs(s) > 0.5)
            along = ((level > m_rect.center().y()) == (s < 0)) ? 0 : -size.width;
        const double up = m_frame.mm(0.5);
        const QPointF origin = at.at + QPointF(c * along + s * up, s * along - c * up);
        const QPointF end = origin + QPointF(c, s) * size.width;
        const QRectF box = QRectF(origin, end).normalized().adjusted(-2, -size.ascent, 2, 2);
        if (!m_rect.contains(origin) || !m_rect.contains(end)) return false;
        for (const QRectF& taken : m_taken)
            if (taken.intersects(box)) return false;
        m_taken.push_back(box);
        drawText(m_painter, {origin.x(), origin.y()}, at.angle, text, m_style, m_frame.pxPerMm);
        return true;
    }

    QPainter& m_painter;
    const MapFrame& m_frame;
    QPainterPath m_globe;  ///< empty where its edge is beyond the frame
    TextStyle m_style;
    QRectF m_rect;
    std::vector<QRectF> m_taken;
};

std::vector<QPolygonF> equatorOf(const std::vector<globe::GridLine>& lines,
                                 const std::vector<std::vector<QPolygonF>>& drawn) {
    for (std::size_t i = 0; i < lines.size(); ++i)
        if (!lines[i].isConstantX && lines[i].value == 0) return drawn[i];
    return {};
}
}  // namespace

void paintSea(QPainter& painter, const MapFrame& frame, const doc::GridStyle& style,
              double opacity) {
    if (!style.hasSea) return;
    painter.save();
    const GlobeOutline globe(frame);
    painter.setRenderHint(QPainter::Antialiasing, !globe.goesOn());
    painter.setOpacity(opacity);
    painter.fillPath(globe.area(), qt(style.sea));
    painter.restore();
}

Result<crs::CrsPtr> gridCrs(const doc::GridStyle& style, const crs::CrsPtr& mapCrs) {
    if (!style.crs.empty()) {
        auto own = crs::parseCrs(style.crs);
        if (!own || !*own || !style.isGraticule || (*own)->isGeographic()) return own;
        return crs::CrsPtr(std::make_shared<crs::Crs>(crs::geographicBase(**own)));
    }
    if (!mapCrs || !style.isGraticule || mapCrs->isGeographic()) return mapCrs;
    return crs::CrsPtr(std::make_shared<crs::Crs>(crs::geographicBase(*mapCrs)));
}

double gridInterval(const doc::GridStyle& style, const crs::CrsPtr& grid, const MapFrame& frame) {
    if (style.interval > 0) return style.interval;
    const double ground =
        kApartMm * frame.pxPerMm * frame.unitsPerPx() * frame.groundMetresPerUnit();
    if (grid && grid->isGeographic()) return globe::roundGraticuleInterval(ground / 111320);
    return roundUpToInterval(ground / (grid ? grid->unit.size : 1));
}

Result<void> paintGridLines(QPainter& painter, const MapFrame& frame, const doc::GridStyle& style,
                            const Progress& progress) {
    const auto grid = gridCrs(style, frame.crs);
    if (!grid) return grid.error();
    if (const auto toMap = crs::Transformation::between(*grid, frame.crs); !toMap)
        return toMap.error();
    const double interval = gridInterval(style, *grid, frame);
    const auto lines =
        globe::gridLines(*grid, frame.crs, frame.extent(), interval, frame.tolerance());
    if (progress.stopped()) return cancelled("drawing");
    const Affine toPixels = frame.toPixels();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(qt(style.colour), frame.mm(style.lineMm)));
    std::vector<std::vector<QPolygonF>> drawn;
    for (const globe::GridLine& line : lines) {
        std::vector<QPolygonF> pieces;
        for (const auto& piece : line.pieces) {
            QPolygonF polygon;
            for (const Point p : piece) polygon << qt(toPixels(p));
            painter.drawPolyline(polygon);
            pieces.push_back(std::move(polygon));
        }
        drawn.push_back(std::move(pieces));
    }
    const GlobeOutline globe(frame);
    if (style.hasOutline && !globe.isBeyond()) {
        QPen pen(qt(style.colour), frame.mm(style.outlineMm));
        pen.setJoinStyle(Qt::RoundJoin);
        painter.strokePath(globe.line(), pen);
    }
    if (!style.hasLabels) return {};
    LabelPainter labels(painter, frame, style, globe);
    std::vector<bool> isLabelled(lines.size());
    for (std::size_t i = 0; i < lines.size(); ++i)
        isLabelled[i] = labels.draw(lines[i], drawn[i], labelOf(lines[i], *grid, interval));
    // Meridians that end in a pole are named where they cross the equator.
    if ((*grid) && (*grid)->isGeographic() && !globe.isBeyond())
        for (std::size_t i = 0; i < lines.size(); ++i)
            if (!isLabelled[i] && lines[i].isConstantX)
                labels.drawAcross(drawn[i], equatorOf(lines, drawn),
                                  labelOf(lines[i], *grid, interval));
    return {};
}

}  // namespace ledge::carto
