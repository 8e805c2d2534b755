#include "carto/symbol_painter.h"

#include <cmath>

#include "carto/map_frame.h"
#include "carto/own_marks.h"
#include "carto/text.h"
#include "core/symbol/hatch.h"

namespace ledge::carto {
namespace {
QPolygonF star(int points, double outer, double inner) {
    QPolygonF out;
    for (int i = 0; i < 2 * points; ++i) {
        const double r = i % 2 == 0 ? outer : inner, angle = M_PI * i / points;
        out << QPointF(r * std::sin(angle), -r * std::cos(angle));
    }
    return out;
}

// Two bars across each other, as one outline.
QPolygonF bars(double r) {
    const double w = r * 0.34;
    return QPolygonF({{-w, -r},
                      {w, -r},
                      {w, -w},
                      {r, -w},
                      {r, w},
                      {w, w},
                      {w, r},
                      {-w, r},
                      {-w, w},
                      {-r, w},
                      {-r, -w},
                      {-w, -w}});
}

QPainterPath closed(const QPolygonF& polygon) {
    QPainterPath out;
    out.addPolygon(polygon);
    out.closeSubpath();
    return out;
}
}  // namespace

QPainterPath markPath(doc::Mark mark, double d) {
    QPainterPath path;
    const double r = d / 2;
    switch (mark) {
    case doc::Mark::Circle: path.addEllipse(QPointF(0, 0), r, r); break;
    case doc::Mark::Square: path.addRect(-r * 0.89, -r * 0.89, d * 0.89, d * 0.89); break;
    case doc::Mark::Triangle:
        return closed(QPolygonF({{0, -r * 1.15}, {r * 1.05, r * 0.75}, {-r * 1.05, r * 0.75}}));
    case doc::Mark::Diamond:
        return closed(QPolygonF({{0, -r * 1.2}, {r * 1.2, 0}, {0, r * 1.2}, {-r * 1.2, 0}}));
    case doc::Mark::Pentagon: {
        QPolygonF out;
        for (int i = 0; i < 5; ++i)
            out << QPointF(r * 1.08 * std::sin(i * M_PI * 0.4),
                           -r * 1.08 * std::cos(i * M_PI * 0.4));
        return closed(out);
    }
    case doc::Mark::Star: return closed(star(5, r * 1.25, r * 0.52));
    case doc::Mark::Plus: return closed(bars(r * 1.1));
    case doc::Mark::Cross: return QTransform().rotate(45).map(closed(bars(r * 1.15)));
    case doc::Mark::Drop:
        path.moveTo(0, -r * 1.4);
        path.cubicTo(r * 0.35, -r * 0.7, r * 0.95, -r * 0.25, r * 0.95, r * 0.35);
        path.arcTo(QRectF(-r * 0.95, -r * 0.6, r * 1.9, r * 1.9), 0, -180);
        path.cubicTo(-r * 0.95, -r * 0.25, -r * 0.35, -r * 0.7, 0, -r * 1.4);
        break;
    case doc::Mark::Needle:
        return closed(QPolygonF({{0, -r * 1.3}, {r * 0.6, r}, {0, r * 0.55}, {-r * 0.6, r}}));
    }
    return path;
}

namespace {
Qt::PenCapStyle capOf(const doc::LinePart& line) {
    switch (line.cap) {
    case doc::Cap::Usual: return isDashed(line) ? Qt::FlatCap : Qt::RoundCap;
    case doc::Cap::Round: return Qt::RoundCap;
    case doc::Cap::Flat: return Qt::FlatCap;
    case doc::Cap::Square: return Qt::SquareCap;
    }
    return Qt::RoundCap;
}
Qt::PenJoinStyle joinOf(doc::Join join) {
    switch (join) {
    case doc::Join::Round: return Qt::RoundJoin;
    case doc::Join::Mitre: return Qt::MiterJoin;
    case doc::Join::Bevel: return Qt::BevelJoin;
    }
    return Qt::RoundJoin;
}
}  // namespace

QPen penOf(const doc::LinePart& line, double pxPerMm) {
    QPen pen(qt(line.colour), std::max(0.35, line.widthMm * pxPerMm));
    pen.setJoinStyle(joinOf(line.join));
    pen.setCapStyle(capOf(line));
    // Dash lengths in millimetres on paper, whatever the line's width.
    const double mm = pxPerMm / pen.widthF();
    if (!line.dashesMm.empty()) {
        QList<qreal> lengths;
        for (const double one : line.dashesMm) lengths << one * mm;
        pen.setDashPattern(lengths);
        return pen;
    }
    switch (line.dash) {
    case doc::Dash::Solid: break;
    case doc::Dash::Dashes: pen.setDashPattern({1.7 * mm, 0.8 * mm}); break;
    case doc::Dash::Dots: pen.setDashPattern({0.35 * mm, 0.75 * mm}); break;
    case doc::Dash::DashDot: pen.setDashPattern({2.4 * mm, 0.7 * mm, 0.4 * mm, 0.7 * mm}); break;
    }
    return pen;
}

namespace {
std::vector<std::vector<Point>> ringsOf(const QPainterPath& path) {
    std::vector<std::vector<Point>> out;
    for (const QPolygonF& polygon : path.toSubpathPolygons()) {
        auto& ring = out.emplace_back();
        for (const QPointF& p : polygon) ring.push_back({p.x(), p.y()});
    }
    return out;
}

QPainterPath besides(const QPainterPath& path, double px) {
    if (px == 0) return path;
    QPainterPath out;
    for (const auto& line : ringsOf(path)) {
        QPolygonF moved;
        for (const Point p : beside(line, px)) moved << qt(p);
        out.addPolygon(moved);
    }
    return out;
}

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
    void operator()(const doc::PatternPart& pattern) const {
        const auto rings = ringsOf(shape.area(2));
        const QPointF from = shape.origin();
        const Point origin{from.x(), from.y()};
        const double spacing = pattern.spacingMm * pxPerMm;
        const double width = std::max(0.35, pattern.lineMm * pxPerMm);
        if (spacing < 1) return;
        switch (pattern.pattern) {
        case doc::Pattern::Plain: return;
        case doc::Pattern::Pictures:
            // Cut by the area, so that copies run across its edge into the neighbour's.
            painter.save();
            painter.setClipPath(shape.area(2), Qt::IntersectClip);
            for (const Point p : studded(around(shape.area(2).boundingRect(), spacing), spacing,
                                         pattern.turn, origin)) {
                painter.translate(qt(p));
                paintDrawing(painter, pattern.picture, spacing * 0.8, pattern.colour);
                painter.translate(-qt(p));
            }
            painter.restore();
            return;
        case doc::Pattern::CrossHatch:
            lines(hatched(rings, spacing, pattern.turn + 90, origin), pattern.colour, width);
            [[fallthrough]];
        case doc::Pattern::Hatch:
            return lines(hatched(rings, spacing, pattern.turn, origin), pattern.colour, width);
        case doc::Pattern::Dots: {
            painter.setPen(Qt::NoPen);
            painter.setBrush(qt(pattern.colour));
            const double r = std::max(0.5, width);
            for (const Point p : studded(rings, spacing, pattern.turn, origin))
                painter.drawEllipse(qt(p), r, r);
            return;
        }
        case doc::Pattern::Crosses: {
            std::vector<Segment> arms;
            const double arm = spacing * 0.22;
            for (const Point p : studded(rings, spacing, pattern.turn, origin)) {
                arms.emplace_back(Point{p.x - arm, p.y}, Point{p.x + arm, p.y});
                arms.emplace_back(Point{p.x, p.y - arm}, Point{p.x, p.y + arm});
            }
            return lines(arms, pattern.colour, width);
        }
        }
    }
    void operator()(const doc::LinePart& line) const {
        const double away = line.offsetMm * pxPerMm;
        const double reach = line.widthMm * pxPerMm + std::abs(away) + 4;
        QPen pen = penOf(line, pxPerMm);
        painter.setBrush(Qt::NoBrush);
        if (!isDashed(line)) {
            painter.setPen(pen);
            painter.drawPath(besides(shape.lines(reach), away));
            return;
        }
        // Dashes begin where the line does, not where a frame cuts it.
        for (const SymbolShape::Piece& piece : shape.pieces(reach)) {
            pen.setDashOffset(piece.fromPx / pen.widthF());
            painter.strokePath(besides(piece.path, away), pen);
        }
    }
    void operator()(const doc::AlongPart& along) const {
        const double every = along.everyMm * pxPerMm, size = along.sizeMm * pxPerMm;
        if (every < 2) return;
        const double away = along.offsetMm * pxPerMm;
        painter.setPen(along.along == doc::Along::Ticks
                           ? QPen(qt(along.colour), std::max(0.5, size * 0.12))
                           : QPen(Qt::NoPen));
        painter.setBrush(qt(along.colour));
        for (const SymbolShape::Piece& piece : shape.pieces(size + std::abs(away) + 2))
            for (const QPolygonF& line : besides(piece.path, away).toSubpathPolygons())
                walk(line, piece.fromPx, every, [&](QPointF at, double degrees) {
                    painter.save();
                    painter.translate(at);
                    painter.rotate(degrees);
                    if (along.along == doc::Along::Marks)
                        painter.drawPath(markPath(along.mark, size));
                    else if (along.along == doc::Along::Ticks)
                        painter.drawLine(QPointF(0, 0), QPointF(0, size));
                    else
                        painter.drawPolygon(QPolygonF({{size * 0.6, 0},
                                                       {-size * 0.4, -size * 0.42},
                                                       {-size * 0.18, 0},
                                                       {-size * 0.4, size * 0.42}}));
                    painter.restore();
                });
    }
    void operator()(const doc::MarkPart& mark) const {
        painter.setPen(Qt::NoPen);
        if (mark.ring) {
            const double width = std::max(0.5, mark.ring->widthMm * pxPerMm);
            painter.setPen(QPen(qt(mark.ring->colour), width));
        }
        painter.setBrush(mark.fill ? QBrush(qt(*mark.fill)) : QBrush(Qt::NoBrush));
        const double size = mark.sizeMm * pxPerMm;
        QPainterPath path = mark.text.empty() ? markPath(mark.mark, size)
                                              : charactersPath(mark.text, mark.font, size);
        if (mark.turn != 0) path = QTransform().rotate(mark.turn).map(path);
        for (const QPointF at : shape.points(size + 2)) {
            painter.translate(at);
            if (mark.picture.empty() || !drawing(mark, size)) painter.drawPath(path);
            painter.translate(-at);
        }
    }

private:
    static std::vector<std::vector<Point>> around(const QRectF& r, double by) {
        const QRectF b = r.adjusted(-by, -by, by, by);
        return {{{b.left(), b.top()},
                 {b.right(), b.top()},
                 {b.right(), b.bottom()},
                 {b.left(), b.bottom()},
                 {b.left(), b.top()}}};
    }
    bool drawing(const doc::MarkPart& mark, double size) const {
        const Colour ink = mark.fill ? *mark.fill : mark.ring ? mark.ring->colour : Colour{};
        painter.save();
        painter.rotate(mark.turn);
        const bool isDone = paintDrawing(painter, mark.picture, size, ink);
        painter.restore();
        return isDone;
    }
    void lines(const std::vector<Segment>& segments, Colour colour, double width) const {
        QPen pen(qt(colour), width);
        pen.setCapStyle(Qt::FlatCap);
        painter.setPen(pen);
        QList<QLineF> all;
        all.reserve(static_cast<qsizetype>(segments.size()));
        for (const auto& [from, to] : segments) all << QLineF(qt(from), qt(to));
        painter.drawLines(all);
    }
    // Places at even distances from where the line begins, half a distance in.
    template <typename Put>
    static void walk(const QPolygonF& line, double from, double every, const Put& put) {
        double done = from;
        for (qsizetype i = 0; i + 1 < line.size(); ++i) {
            const QLineF side(line[i], line[i + 1]);
            const double length = side.length();
            if (!(length > 0)) continue;
            for (double next = (std::floor(done / every - 0.5) + 1.5) * every;
                 next <= done + length; next += every)
                if (next > done) put(side.pointAt((next - done) / length), -side.angle());
            done += length;
        }
    }
};

bool isBeneath(const doc::SymbolPart& part) {
    const auto* line = std::get_if<doc::LinePart>(&part);
    return line && line->isBeneath;
}
}  // namespace

bool isDashed(const doc::LinePart& line) {
    return !line.dashesMm.empty() || line.dash != doc::Dash::Solid;
}

void paintSymbol(QPainter& painter, const doc::Symbol& symbol, const SymbolShape& shape,
                 double pxPerMm, Parts which) {
    for (const doc::SymbolPart& part : symbol.parts)
        if (which == Parts::All || isBeneath(part) == (which == Parts::Beneath))
            std::visit(PartPainter{painter, shape, pxPerMm}, part);
}

}  // namespace ledge::carto
