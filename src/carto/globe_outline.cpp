#include "carto/globe_outline.h"

#include <QPainter>
#include <cmath>

#include "core/crs/transformation.h"
#include "core/geometry/clip.h"
#include "core/geometry/measure.h"
#include "core/globe/around.h"
#include "core/globe/degrees.h"

namespace ledge::carto {
namespace {
// Degrees between points of the edge: its arcs, of a radius of some earths at most, bend by less
// than half the tolerance between them.
double stepFor(const MapFrame& frame) {
    constexpr double kEarths = 4 * 6378137.0;
    const double metres = frame.tolerance() * (frame.crs ? frame.crs->metresPerUnit() : 1);
    return std::clamp(std::sqrt(4 * metres / kEarths) * 180 / kPi, 0.02, 0.5);
}
}  // namespace

GlobeOutline::GlobeOutline(const MapFrame& frame)
    : m_widthPx(frame.widthPx), m_heightPx(frame.heightPx), m_domain(globe::domainOf(frame.crs)) {
    if (m_domain.kind == globe::Domain::Kind::Plane) return;
    const auto way = crs::Transformation::along(globe::degreesOf(frame.crs), frame.crs, {});
    if (!way) return;
    std::vector<Point> points = m_domain.boundary(stepFor(frame));
    if (!frame.crs->isGeographic()) {
        way->forward(points);
    } else {
        for (Point& p : points) p.x -= frame.crs->primeMeridian;
    }
    const Affine toPixels = frame.toPixels();
    // Where one goes on around, the sides of a cylinder are no edge.
    const Box turn = globe::turnBox(frame.crs);
    const bool goesOn = turn.width() > 0 && frame.extent().width() <= turn.width();
    const auto isSide = [&](Point p) {
        return std::min(std::abs(p.x - turn.xMin), std::abs(p.x - turn.xMax)) < 1e-6 * turn.width();
    };
    std::erase_if(points, [](Point p) { return !p.isFinite(); });
    for (std::size_t i = 0; i < points.size(); ++i) {
        const Point next = points[(i + 1) % points.size()];
        m_ring.push_back(toPixels(points[i]));
        m_isSide.push_back(goesOn && isSide(points[i]) && isSide(next) &&
                           std::abs(points[i].x - next.x) < turn.width() / 2);
    }
    if (m_ring.size() < 3) return;
    m_ring.push_back(m_ring.front());
    const Box room = Box{0, 0, double(m_widthPx), double(m_heightPx)}.grown(2);
    m_isBeyond = clipLine(m_ring, room).empty() &&
                 ledge::isInside(Geometry::polygon({m_ring}), room.centre());
}

QPainterPath GlobeOutline::area() const {
    QPainterPath path;
    const Box room = Box{0, 0, double(m_widthPx), double(m_heightPx)}.grown(4);
    if (m_isBeyond) {
        path.addRect(room.xMin, room.yMin, room.width(), room.height());
        return path;
    }
    QPolygonF ring;
    for (const Point p : clipRing(m_ring, room)) ring << qt(p);
    path.addPolygon(ring);
    path.closeSubpath();
    return path;
}

QPainterPath GlobeOutline::line() const {
    QPainterPath path;
    if (m_isBeyond) return path;
    const Box room = Box{0, 0, double(m_widthPx), double(m_heightPx)}.grown(20);
    const auto add = [&](std::span<const Point> line) {
        for (const auto& piece : clipLine(line, room)) {
            path.moveTo(qt(piece.front()));
            for (std::size_t i = 1; i < piece.size(); ++i) path.lineTo(qt(piece[i]));
        }
    };
    std::size_t begin = 0;
    for (std::size_t i = 0; i < m_isSide.size(); ++i) {
        if (!m_isSide[i]) continue;
        if (i > begin) add(std::span(m_ring).subspan(begin, i + 1 - begin));
        begin = i + 1;
    }
    add(std::span(m_ring).subspan(begin));
    return path;
}

void GlobeOutline::smoothen(QImage& picture) const {
    if (m_isBeyond || picture.isNull()) return;
    QImage mask(picture.size(), QImage::Format_ARGB32_Premultiplied);
    mask.fill(Qt::transparent);
    QPainter painter(&mask);
    painter.setRenderHint(QPainter::Antialiasing, !goesOn());
    painter.fillPath(area(), Qt::white);
    painter.end();
    const QImage before = picture;
    for (int y = 0; y < picture.height(); ++y) {
        const auto* inside = reinterpret_cast<const QRgb*>(mask.constScanLine(y));
        auto* row = reinterpret_cast<QRgb*>(picture.scanLine(y));
        for (int x = 0; x < picture.width(); ++x) {
            const int share = qAlpha(inside[x]);
            if (share == 255) continue;
            if (share == 0) {
                row[x] = 0;
                continue;
            }
            // Of the edge's pixels those whose middle is outside have no colour of their own.
            int sum[4] = {0, 0, 0, 0}, count = 0;
            for (int dy = -1; dy <= 1; ++dy)
                for (int dx = -1; dx <= 1; ++dx) {
                    if (!before.rect().contains(x + dx, y + dy)) continue;
                    const QRgb c =
                        reinterpret_cast<const QRgb*>(before.constScanLine(y + dy))[x + dx];
                    if (qAlpha(c) == 0) continue;
                    sum[0] += qRed(c), sum[1] += qGreen(c), sum[2] += qBlue(c), sum[3] += qAlpha(c);
                    ++count;
                }
            if (count == 0) continue;
            const auto part = [&](int i) { return sum[i] / count * share / 255; };
            row[x] = qRgba(part(0), part(1), part(2), part(3));
        }
    }
}

}  // namespace ledge::carto
