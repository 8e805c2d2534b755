#include "carto/sheet/shape_painter.h"

#include <QPainterPath>
#include <cmath>

#include "carto/symbol_painter.h"
#include "carto/text.h"

namespace ledge::carto {
namespace {
QPolygonF pointsOf(const QRectF& rect, const doc::ShapeItem& shape) {
    std::vector<Point> points = shape.points;
    if (points.size() < 2) points = {{0, 0}, {1, 1}};
    QPolygonF out;
    for (const Point p : points)
        out << QPointF(rect.left() + p.x * rect.width(), rect.top() + p.y * rect.height());
    return out;
}

// The head of an arrow with its tip at `tip`; how far back its neck is.
double paintHead(QPainter& painter, QPointF from, QPointF tip, double width, QColor colour) {
    const QPointF way = tip - from;
    const double length = std::hypot(way.x(), way.y());
    if (!(length > 0)) return 0;
    const double long_ = width * 5, half = width * 2;
    const QPointF along = way / length, across(-along.y(), along.x());
    painter.save();
    painter.setPen(Qt::NoPen);
    painter.setBrush(colour);
    painter.drawPolygon(
        QPolygonF({tip, tip - along * long_ + across * half, tip - along * (long_ * 0.78),
                   tip - along * long_ - across * half}));
    painter.restore();
    return std::min(long_ * 0.8, length);
}

// Ends drawn back, so that a line does not show beyond the tip of its arrow.
void paintLine(QPainter& painter, QPolygonF points, const doc::ShapeItem& shape, double width) {
    const QColor colour = qt(shape.stroke);
    const auto drawBack = [&](qsizetype end, qsizetype before) {
        const double by = paintHead(painter, points[before], points[end], width, colour);
        const QPointF way = points[end] - points[before];
        const double length = std::hypot(way.x(), way.y());
        if (length > 0) points[end] -= way / length * by;
    };
    if (shape.hasHead) drawBack(points.size() - 1, points.size() - 2);
    if (shape.hasTail) drawBack(0, 1);
    painter.drawPolyline(points);
}
}  // namespace

void paintShape(QPainter& painter, const QRectF& rect, const doc::ShapeItem& shape, double mm) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const double width = shape.strokeMm * mm;
    if (shape.hasStroke && width > 0) {
        doc::LinePart line;
        line.colour = shape.stroke, line.widthMm = shape.strokeMm, line.dash = shape.dash;
        QPen pen = penOf(line, mm);
        pen.setWidthF(width);
        pen.setJoinStyle(Qt::MiterJoin);
        if (shape.dash == doc::Dash::Solid) pen.setCapStyle(Qt::FlatCap);
        painter.setPen(pen);
    } else {
        painter.setPen(Qt::NoPen);
    }
    painter.setBrush(shape.hasFill ? QBrush(qt(shape.fill)) : QBrush(Qt::NoBrush));
    switch (shape.form) {
    case doc::ShapeForm::Rectangle:
        if (shape.roundMm > 0)
            painter.drawRoundedRect(rect, shape.roundMm * mm, shape.roundMm * mm);
        else
            painter.drawRect(rect);
        break;
    case doc::ShapeForm::Ellipse: painter.drawEllipse(rect); break;
    case doc::ShapeForm::Polygon: painter.drawPolygon(pointsOf(rect, shape)); break;
    case doc::ShapeForm::Line: paintLine(painter, pointsOf(rect, shape), shape, width); break;
    }
    painter.restore();
}

}  // namespace ledge::carto
