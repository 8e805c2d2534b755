#include "app/canvas/map_marks.h"

#include "app/theme.h"
#include "carto/scale_bar.h"
#include "carto/text.h"

namespace ledge::app {
namespace {
constexpr Colour kInk{0x23, 0x26, 0x5A};

Colour plain(const QColor& c) {
    return {std::uint8_t(c.red()), std::uint8_t(c.green()), std::uint8_t(c.blue())};
}
}  // namespace

void paintScalePlate(QPainter& painter, const carto::MapFrame& frame, LengthUnit lengths) {
    const double mm = frame.pxPerMm;
    const carto::ScaleBar bar =
        carto::scaleBarFor(frame, std::min(frame.widthPx / 3.5, 45 * mm), lengths);
    const double left = 4 * mm, bottom = frame.heightPx - 4 * mm;
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(Qt::NoPen);
    QColor back = theme().surface;
    back.setAlpha(225);
    painter.setBrush(back);
    painter.drawRoundedRect(QRectF(left, bottom - 8.5 * mm, bar.lengthPx + 13 * mm, 8.5 * mm),
                            1.6 * mm, 1.6 * mm);
    carto::paintScaleBar(painter, {left + 4 * mm, bottom - 2 * mm}, bar, 7.5, mm,
                         plain(theme().text));
}

void paintCurtainEdge(QPainter& painter, const carto::MapFrame& frame, double x,
                      const QString& left, const QString& right) {
    const double mm = frame.pxPerMm, middle = frame.heightPx / 2.0;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    for (const auto& [colour, width] :
         {std::pair(QColor(255, 255, 255, 230), 1.1), std::pair(theme().lichen, 0.5)}) {
        painter.setPen(QPen(colour, width * mm));
        painter.drawLine(QPointF(x, 0), QPointF(x, frame.heightPx));
    }
    painter.setBrush(theme().lichen);
    painter.setPen(QPen(Qt::white, 0.5 * mm));
    painter.drawEllipse(QPointF(x, middle), 2 * mm, 2 * mm);
    // Beside the handle, where no scale bar and no tools lie; each on its side or not at all.
    const carto::TextStyle style{9, true, false, kInk, true, 0};
    const double baseline = middle - 4 * mm;
    const double start = x - carto::measure(left, style, mm).width - 3 * mm;
    if (start > 0) carto::drawText(painter, {start, baseline}, 0, left, style, mm);
    if (x + 3 * mm + carto::measure(right, style, mm).width < frame.widthPx)
        carto::drawText(painter, {x + 3 * mm, baseline}, 0, right, style, mm);
    painter.restore();
}

void paintNotice(QPainter& painter, const carto::MapFrame& frame, double topPx,
                 const QString& said) {
    const double mm = frame.pxPerMm;
    const carto::TextStyle style{9, true, false, kInk, false, 0};
    const auto size = carto::measure(said, style, mm);
    const QRectF plate(frame.widthPx / 2.0 - size.width / 2 - 4 * mm, topPx, size.width + 8 * mm,
                       7 * mm);
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(theme().lichen, 0.4 * mm));
    painter.setBrush(QColor(246, 246, 251, 235));
    painter.drawRoundedRect(plate, 3.5 * mm, 3.5 * mm);
    carto::drawText(painter, {plate.left() + 4 * mm, plate.bottom() - 2.3 * mm}, 0, said, style,
                    mm);
    painter.restore();
}

void paintProfileMarks(QPainter& painter, const carto::MapFrame& frame,
                       const std::vector<Point>& line, Point mark) {
    const Affine toPixels = frame.toPixels();
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    if (line.size() > 1) {
        QPolygonF drawn;
        for (const Point p : line) drawn << carto::qt(toPixels(p));
        painter.setPen(QPen(Qt::white, frame.mm(1)));
        painter.drawPolyline(drawn);
        painter.setPen(QPen(theme().indigo, frame.mm(0.5)));
        painter.drawPolyline(drawn);
    }
    if (mark.isFinite()) {
        painter.setPen(QPen(Qt::white, frame.mm(0.5)));
        painter.setBrush(theme().lichen);
        painter.drawEllipse(carto::qt(toPixels(mark)), frame.mm(1.3), frame.mm(1.3));
    }
    painter.restore();
}

}  // namespace ledge::app
