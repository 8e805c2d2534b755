#include "carto/sheet/panel_grid.h"

#include <QLineF>
#include <QPainterPath>

#include "carto/grid_painter.h"
#include "carto/text.h"
#include "core/base/numbers.h"
#include "core/globe/grid_lines.h"

namespace ledge::carto {
namespace {
constexpr double kTickMm = 1.2, kArmMm = 1.5;

// Lines may be faint; figures are read.
Colour opaque(Colour colour) {
    colour.a = 255;
    return colour;
}

struct Line {
    const globe::GridLine* of = nullptr;
    std::vector<QPolygonF> pieces;  ///< on the page
    QString value;
};

QString valueOf(const globe::GridLine& line, const crs::CrsPtr& grid, double interval) {
    if (grid && grid->isGeographic())
        return QString::fromStdString(globe::graticuleLabel(line.value, !line.isConstantX));
    const int decimals = std::max(0, static_cast<int>(std::ceil(-std::log10(interval) - 1e-9)));
    return QString::fromStdString(formatNumber(line.value, {decimals, true}));
}

// Where a line crosses a straight edge.
std::vector<QPointF> meetings(const Line& line, const QLineF& edge) {
    std::vector<QPointF> out;
    for (const QPolygonF& piece : line.pieces)
        for (qsizetype i = 1; i < piece.size(); ++i) {
            QPointF at;
            if (QLineF(piece[i - 1], piece[i]).intersects(edge, &at) == QLineF::BoundedIntersection)
                out.push_back(at);
        }
    return out;
}

class GridOnPanel {
public:
    GridOnPanel(QPainter& painter, const QRectF& rect, double mm, const doc::PanelGrid& grid)
        : m_painter(painter), m_rect(rect), m_mm(mm),
          m_grid(grid), m_style{grid.style.labelPt,        false, false,
                                opaque(grid.style.colour), false, 0} {}

    void lines(const std::vector<Line>& all) const {
        inside([&] {
            pen();
            for (const Line& line : all)
                for (const QPolygonF& piece : line.pieces) m_painter.drawPolyline(piece);
        });
    }

    void crosses(const std::vector<Line>& all) const {
        inside([&] {
            pen();
            for (const Line& one : all) {
                if (!one.of->isConstantX) continue;
                for (const Line& other : all)
                    if (!other.of->isConstantX) crossing(one, other);
            }
        });
    }

    // Strokes outward where lines meet the edges.
    void ticks(const std::vector<Line>& all) const {
        pen();
        for (const Line& line : all)
            for (const auto& [edge, out] : edges())
                for (const QPointF at : meetings(line, edge))
                    m_painter.drawLine(at, at + out * kTickMm * m_mm);
    }

    void values(const std::vector<Line>& all, GridSides sides) const {
        const bool isTopLeft = sides == GridSides::TopLeft;
        const auto four = edges();
        std::vector<QRectF> taken;
        for (const Line& line : all) {
            // Meridians and eastings above or below, the others at the sides.
            const std::size_t at = line.of->isConstantX ? (isTopLeft ? 0 : 2) : (isTopLeft ? 3 : 1);
            for (const QPointF p : meetings(line, four[at].first)) value(p, line.value, at, taken);
        }
    }

private:
    // Top, right, foot, left, and which way is out.
    std::array<std::pair<QLineF, QPointF>, 4> edges() const {
        return {{{QLineF(m_rect.topLeft(), m_rect.topRight()), {0, -1}},
                 {QLineF(m_rect.topRight(), m_rect.bottomRight()), {1, 0}},
                 {QLineF(m_rect.bottomLeft(), m_rect.bottomRight()), {0, 1}},
                 {QLineF(m_rect.topLeft(), m_rect.bottomLeft()), {-1, 0}}}};
    }
    void pen() const {
        m_painter.setBrush(Qt::NoBrush);
        m_painter.setPen(QPen(qt(m_grid.style.colour), std::max(0.35, m_grid.style.lineMm * m_mm)));
    }
    template <typename Draw>
    void inside(const Draw& draw) const {
        m_painter.save();
        m_painter.setClipRect(m_rect, Qt::IntersectClip);
        draw();
        m_painter.restore();
    }
    void crossing(const Line& one, const Line& other) const {
        for (const QPolygonF& a : one.pieces)
            for (const QPolygonF& b : other.pieces)
                for (qsizetype i = 1; i < a.size(); ++i) {
                    const QLineF side(a[i - 1], a[i]);
                    for (qsizetype k = 1; k < b.size(); ++k) {
                        const QLineF across(b[k - 1], b[k]);
                        QPointF at;
                        if (side.intersects(across, &at) != QLineF::BoundedIntersection) continue;
                        arm(at, side), arm(at, across);
                        return;
                    }
                }
    }
    void arm(QPointF at, const QLineF& along) const {
        const QLineF unit = along.unitVector();
        const QPointF by = QPointF(unit.dx(), unit.dy()) * kArmMm * m_mm;
        m_painter.drawLine(at - by, at + by);
    }
    void value(QPointF at, const QString& said, std::size_t edge,
               std::vector<QRectF>& taken) const {
        const auto size = measure(said, m_style, m_mm);
        const double away = (kTickMm + 0.7) * m_mm;
        QPointF origin;
        QRectF box;
        double angle = 0;
        if (edge == 0 || edge == 2) {
            const double y = edge == 0 ? at.y() - away : at.y() + away + size.ascent;
            origin = {at.x() - size.width / 2, y};
            box = QRectF(origin.x(), y - size.ascent, size.width, size.ascent);
        } else {
            // Along the side, read from the right.
            angle = -1.5707963267948966;
            const double x = edge == 3 ? at.x() - away : at.x() + away + size.ascent;
            origin = {x, at.y() + size.width / 2};
            box = QRectF(x - size.ascent, at.y() - size.width / 2, size.ascent, size.width);
        }
        const QRectF apart = box.adjusted(-m_mm, -m_mm, m_mm, m_mm);
        for (const QRectF& other : taken)
            if (other.intersects(apart)) return;
        taken.push_back(box);
        drawText(m_painter, {origin.x(), origin.y()}, angle, said, m_style, m_mm);
    }

    QPainter& m_painter;
    QRectF m_rect;
    double m_mm;
    const doc::PanelGrid& m_grid;
    TextStyle m_style;
};
}  // namespace

Result<void> paintPanelGrid(QPainter& painter, const QRectF& rect, const MapFrame& frame,
                            const doc::PanelGrid& grid, GridSides sides, const Progress& progress) {
    const auto crs = gridCrs(grid.style, frame.crs);
    if (!crs) return crs.error();
    const double interval = gridInterval(grid.style, *crs, frame);
    // A little beyond, so that what ends at an edge meets it.
    const Box around = frame.extent().grown(4 * frame.unitsPerPx());
    const auto found = globe::gridLines(*crs, frame.crs, around, interval, frame.tolerance());
    if (progress.stopped()) return cancelled("drawing");
    const Affine way = frame.toPixels();
    const QPointF middle = rect.center() - QPointF(frame.widthPx / 2.0, frame.heightPx / 2.0);
    std::vector<Line> lines;
    for (const globe::GridLine& line : found) {
        Line& one = lines.emplace_back();
        one.of = &line;
        one.value = valueOf(line, *crs, interval);
        for (const auto& piece : line.pieces) {
            QPolygonF& on = one.pieces.emplace_back();
            for (const Point p : piece) on << qt(way(p)) + middle;
        }
    }
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const GridOnPanel on(painter, rect, frame.pxPerMm, grid);
    switch (grid.form) {
    case doc::GridForm::Lines: on.lines(lines); break;
    case doc::GridForm::Crosses: on.crosses(lines); break;
    case doc::GridForm::Ticks: break;
    }
    on.ticks(lines);
    if (grid.hasValues && grid.style.hasLabels) on.values(lines, sides);
    painter.restore();
    return {};
}

}  // namespace ledge::carto
