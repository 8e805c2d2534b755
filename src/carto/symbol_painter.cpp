#include "carto/symbol_painter.h"

#include "carto/text.h"

namespace ledge::carto {

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

QPen penOf(const doc::LinePart& line, double pxPerMm) {
    QPen pen(qt(line.colour), std::max(0.35, line.widthMm * pxPerMm));
    pen.setJoinStyle(Qt::RoundJoin);
    pen.setCapStyle(line.dash == doc::Dash::Solid ? Qt::RoundCap : Qt::FlatCap);
    // Dash lengths in millimetres on paper, whatever the line's width.
    const double mm = pxPerMm / pen.widthF();
    switch (line.dash) {
    case doc::Dash::Solid: break;
    case doc::Dash::Dashes: pen.setDashPattern({1.7 * mm, 0.8 * mm}); break;
    case doc::Dash::Dots: pen.setDashPattern({0.35 * mm, 0.75 * mm}); break;
    case doc::Dash::DashDot: pen.setDashPattern({2.4 * mm, 0.7 * mm, 0.4 * mm, 0.7 * mm}); break;
    }
    return pen;
}

namespace {
// How each kind of part is painted.
struct PartPainter {
    QPainter& painter;
    const SymbolShape& shape;
    double pxPerMm;

    void operator()(const doc::FillPart& fill) const {
        painter.setPen(Qt::NoPen);
        painter.setBrush(qt(fill.colour));
        painter.drawPath(shape.area(2));
    }
    void operator()(const doc::LinePart& line) const {
        const double reach = line.widthMm * pxPerMm + 4;
        QPen pen = penOf(line, pxPerMm);
        painter.setBrush(Qt::NoBrush);
        if (line.dash == doc::Dash::Solid) {
            painter.setPen(pen);
            painter.drawPath(shape.lines(reach));
            return;
        }
        // Dashes begin where the line does, not where a frame cuts it.
        for (const SymbolShape::Piece& piece : shape.pieces(reach)) {
            pen.setDashOffset(piece.fromPx / pen.widthF());
            painter.strokePath(piece.path, pen);
        }
    }
    void operator()(const doc::MarkPart& mark) const {
        painter.setPen(Qt::NoPen);
        if (mark.ring) {
            const double width = std::max(0.5, mark.ring->widthMm * pxPerMm);
            painter.setPen(QPen(qt(mark.ring->colour), width));
        }
        painter.setBrush(mark.fill ? QBrush(qt(*mark.fill)) : QBrush(Qt::NoBrush));
        const QPainterPath path = markPath(mark.mark, mark.sizeMm * pxPerMm);
        for (const QPointF at : shape.points(mark.sizeMm * pxPerMm + 2)) {
            painter.translate(at);
            painter.drawPath(path);
            painter.translate(-at);
        }
    }
};
}  // namespace

void paintSymbol(QPainter& painter, const doc::Symbol& symbol, const SymbolShape& shape,
                 double pxPerMm) {
    for (const doc::SymbolPart& part : symbol.parts)
        std::visit(PartPainter{painter, shape, pxPerMm}, part);
}

}  // namespace ledge::carto
