#include "carto/sheet/north_arrow.h"

#include <QPolygonF>

#include "carto/text.h"
#include "core/crs/transformation.h"

namespace ledge::carto {
namespace {
const Colour kArrowInk{0x23, 0x26, 0x3F};

// An arrow from its tip at `top` to `half`, pointing up, in a design.
class Arrow {
public:
    Arrow(QPainter& painter, double top, double half, double mm)
        : m_painter(painter), m_top(top), m_half(half), m_mm(mm), m_w(1.5 * mm) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(qt(kArrowInk));
    }
    void paint(doc::ArrowDesign design) {
        const double notch = m_half - 1.4 * m_mm;
        switch (design) {
        case doc::ArrowDesign::Plain:
            m_painter.drawPolygon(
                QPolygonF({{0, m_top}, {m_w, m_half}, {0, notch}, {-m_w, m_half}}));
            return;
        case doc::ArrowDesign::Split:
            m_painter.drawPolygon(QPolygonF({{0, m_top}, {0, notch}, {-m_w, m_half}}));
            m_painter.setBrush(Qt::white);
            hairline();
            m_painter.drawPolygon(QPolygonF({{0, m_top}, {m_w, m_half}, {0, notch}}));
            return;
        case doc::ArrowDesign::Ring: {
            const double r = (m_half - m_top) * 0.36, middle = m_half - r;
            m_painter.drawPolygon(QPolygonF({{0, m_top},
                                             {m_w, middle + r * 0.5},
                                             {0, middle + r * 0.1},
                                             {-m_w, middle + r * 0.5}}));
            hairline();
            m_painter.setBrush(Qt::NoBrush);
            m_painter.drawEllipse(QPointF(0, middle), r, r);
            return;
        }
        case doc::ArrowDesign::Slim:
            hairline();
            m_painter.drawLine(QPointF(0, m_top + m_mm), QPointF(0, m_half));
            m_painter.drawLine(QPointF(-m_w, m_half - m_mm), QPointF(m_w, m_half - m_mm));
            m_painter.setPen(Qt::NoPen);
            m_painter.setBrush(qt(kArrowInk));
            m_painter.drawPolygon(QPolygonF(
                {{0, m_top}, {0.8 * m_mm, m_top + 2.6 * m_mm}, {-0.8 * m_mm, m_top + 2.6 * m_mm}}));
            return;
        }
    }

private:
    void hairline() { m_painter.setPen(QPen(qt(kArrowInk), 0.2 * m_mm)); }
    QPainter& m_painter;
    double m_top, m_half, m_mm, m_w;
};
}  // namespace

double northAngle(const MapFrame& frame, const doc::NorthArrowItem& item) {
    const double rotation = frame.view.rotation;
    const auto convergence = [&] { return crs::gridConvergence(frame.crs, frame.view.centre); };
    switch (item.north) {
    case doc::North::True: return rotation - convergence();
    case doc::North::Grid: return rotation;
    case doc::North::Typed: return rotation + item.degrees;
    case doc::North::Usual: break;
    }
    const double off = convergence();
    return rotation - (std::abs(off) > 0.5 ? off : 0);
}

void paintNorthArrow(QPainter& painter, const QRectF& rect, const MapFrame& frame,
                     const doc::NorthArrowItem& item, double mm) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const TextStyle style{7, true, false, kArrowInk, false, 0};
    const auto size = measure("N", style, mm);
    painter.translate(rect.center());
    painter.rotate(northAngle(frame, item));
    const double half = std::min(rect.height(), rect.width() * 1.6) / 2;
    drawText(painter, {-size.width / 2, -half + size.ascent}, 0, "N", style, mm);
    Arrow(painter, -half + size.ascent + 1.1 * mm, half, mm).paint(item.design);
    painter.restore();
}

}  // namespace ledge::carto
