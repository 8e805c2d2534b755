#include "app/canvas/measure_overlay.h"

#include <QPainterPath>

#include <algorithm>

#include "app/theme.h"
#include "carto/text.h"
#include "core/crs/transformation.h"

namespace ledge::app {

void MeasureOverlay::setCrs(const crs::CrsPtr& crs, LengthUnit unit) {
    const bool isOther = !crs::isSame(crs, m_crs);
    const bool isNew = isOther || unit != m_unit;
    const auto before = std::exchange(m_crs, crs);
    m_unit = unit;
    if (isOther && !m_points.empty()) {
        bool isLost = !before || !crs;
        if (!isLost) {
            const auto way = crs::Transformation::between(before, crs);
            if (way) way->forward(m_points);
            isLost = !way || std::any_of(m_points.begin(), m_points.end(),
                                         [](Point p) { return !p.isFinite(); });
        }
        if (isLost) clear();
    }
    if (isOther) {
        m_vertex.reset();
        m_hover = kNowhere;
    }
    if (isNew) Q_EMIT changed();
}

void MeasureOverlay::hover(Point at) {
    m_hover = at;
    if (!m_isDone) Q_EMIT changed();
}

void MeasureOverlay::offerVertex(Point asked, std::optional<Point> vertex, double reach) {
    if (!(distance(asked, m_hover) <= reach)) return;
    if (m_vertex == vertex) return;
    m_vertex = vertex;
    Q_EMIT changed();
}

void MeasureOverlay::add() {
    if (m_hover.isFinite()) addAt(m_vertex && m_snaps ? *m_vertex : m_hover);
}

void MeasureOverlay::addAt(Point at) {
    if (m_isDone) {
        m_points.clear();
        m_isDone = false;
    }
    if (m_points.empty() || !(m_points.back() == at)) m_points.push_back(at);
    Q_EMIT changed();
}

void MeasureOverlay::removeLast() {
    if (!m_points.empty()) m_points.pop_back();
    m_isDone = false;
    Q_EMIT changed();
}

void MeasureOverlay::finish() {
    if (m_points.size() >= 2) m_isDone = true;
    Q_EMIT changed();
}

void MeasureOverlay::clear() {
    m_points.clear();
    m_vertex.reset();
    m_isDone = false;
    Q_EMIT changed();
}

void MeasureOverlay::setArea(bool isArea) {
    if (m_isArea == isArea) return;
    m_isArea = isArea;
    Q_EMIT changed();
}

std::vector<Point> MeasureOverlay::shown() const {
    auto out = m_points;
    if (!m_isDone && !out.empty() && m_hover.isFinite())
        out.push_back(m_vertex && m_snaps ? *m_vertex : m_hover);
    return out;
}

session::Measurement MeasureOverlay::measured() const {
    return session::measure(m_crs, shown(), m_isArea);
}

void MeasureOverlay::paint(QPainter& painter, const carto::MapFrame& frame) const {
    const auto points = shown();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const Affine toPixels = frame.toPixels();
    const auto polygonOf = [&](std::span<const Point> line) {
        QPolygonF out;
        for (const Point p : line) out << carto::qt(toPixels(p));
        return out;
    };
    const bool closes = m_isArea && points.size() >= 3;
    const session::TrueCourse course = session::trueCourse(m_crs, points, closes);
    std::vector<QPolygonF> curves;
    for (const auto& line : course.lines) curves.push_back(polygonOf(line));
    const auto drawCurves = [&] {
        for (const QPolygonF& curve : curves) painter.drawPolyline(curve);
    };
    QPolygonF straight = polygonOf(points);
    if (closes) straight << straight.front();
    if (closes) {
        QColor fill = theme().lichen;
        fill.setAlpha(45);
        painter.setPen(Qt::NoPen);
        painter.setBrush(fill);
        QPainterPath area;
        for (std::size_t k = 0; k < course.area.partCount(); ++k)
            area.addPolygon(polygonOf(course.area.part(k)));
        painter.drawPath(area);
    }
    painter.setBrush(Qt::NoBrush);
    QPen plane(theme().indigo, frame.mm(0.25), Qt::DashLine);
    painter.setPen(plane);
    painter.drawPolyline(straight);
    painter.setPen(QPen(QColor(255, 255, 255, 220), frame.mm(1.1), Qt::SolidLine, Qt::RoundCap,
                        Qt::RoundJoin));
    drawCurves();
    painter.setPen(QPen(theme().lichen, frame.mm(0.6), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    drawCurves();
    painter.setPen(QPen(theme().ink, frame.mm(0.3)));
    painter.setBrush(Qt::white);
    for (const Point p : m_points) {
        const double r = frame.mm(0.8);
        painter.drawEllipse(carto::qt(toPixels(p)), r, r);
    }
    if (m_vertex && m_snaps && !m_isDone) {
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme().ink, frame.mm(0.35)));
        const double r = frame.mm(1.5);
        painter.drawRect(
            QRectF(carto::qt(toPixels(*m_vertex)) - QPointF(r, r), QSizeF(2 * r, 2 * r)));
    }
    const auto m = session::measure(m_crs, points, m_isArea);
    if (points.size() >= 2) {
        const double length =
            std::isfinite(m.ellipsoidalLength) ? m.ellipsoidalLength : m.planarLength;
        const double area = std::isfinite(m.ellipsoidalArea) ? m.ellipsoidalArea : m.planarArea;
        const QString said = QString::fromStdString(m.isArea ? formatArea(area, m_unit)
                                                             : formatLength(length, m_unit));
        carto::drawText(
            painter,
            {toPixels(points.back()).x + frame.mm(2), toPixels(points.back()).y - frame.mm(1.5)}, 0,
            said, {9, true, false, {0x23, 0x26, 0x5A}, true, 0}, frame.pxPerMm);
    }
    painter.restore();
}

}  // namespace ledge::app
