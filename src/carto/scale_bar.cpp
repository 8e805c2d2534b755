#include "carto/scale_bar.h"

#include <QPolygonF>

#include "carto/text.h"
#include "core/base/numbers.h"
#include "core/crs/transformation.h"

namespace ledge::carto {

ScaleBar scaleBarFor(const MapFrame& frame, double roomPx, LengthUnit unit) {
    ScaleBar bar;
    const double metresPerPx = frame.unitsPerPx() * frame.groundMetresPerUnit();
    if (!(metresPerPx > 0) || !std::isfinite(metresPerPx) || !(roomPx > 0)) return bar;
    bar.unit = scaleBarUnit(metresPerPx * roomPx, unit);
    const double count = roundDownTo125(metresPerPx * roomPx / bar.unit.metres);
    bar.metres = count * bar.unit.metres;
    bar.lengthPx = bar.metres / metresPerPx;
    const double first = count / std::pow(10, std::floor(std::log10(count) + 1e-9));
    bar.divisions = first > 1.5 && first < 3 ? 4 : (first >= 3 ? 5 : 2);
    if (bar.divisions == 5 && bar.lengthPx < 40 * frame.pxPerMm) bar.divisions = 1;
    if (bar.divisions == 4 && bar.lengthPx < 30 * frame.pxPerMm) bar.divisions = 2;
    return bar;
}

void paintScaleBar(QPainter& painter, QPointF at, const ScaleBar& bar, double sizePt, double mm,
                   Colour colour) {
    if (bar.metres <= 0) return;
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    painter.setPen(QPen(qt(colour), 0.2 * mm));
    const double tick = 1.3 * mm;
    painter.drawLine(at, at + QPointF(bar.lengthPx, 0));
    const TextStyle style{sizePt, false, false, colour, false, 0};
    for (int i = 0; i <= bar.divisions; ++i) {
        const double x = at.x() + bar.lengthPx * i / bar.divisions;
        painter.drawLine(QPointF(x, at.y()), QPointF(x, at.y() - tick));
        const double value = bar.metres / bar.unit.metres * i / bar.divisions;
        const QString number = QString::fromStdString(formatNumber(value));
        const double half = measure(number, style, mm).width / 2;
        const QString said = i == bar.divisions
                                 ? number + QChar(0xA0) + QString::fromStdString(bar.unit.name)
                                 : number;
        drawText(painter, {x - half, at.y() - tick - 0.9 * mm}, 0, said, style, mm);
    }
    painter.restore();
}

double northAngle(const MapFrame& frame) {
    const double convergence = crs::gridConvergence(frame.crs, frame.view.centre);
    return frame.view.rotation - (std::abs(convergence) > 0.5 ? convergence : 0);
}

void paintNorthArrow(QPainter& painter, const QRectF& rect, const MapFrame& frame, double mm) {
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const TextStyle style{7, true, false, {0x23, 0x26, 0x3F}, false, 0};
    const auto size = measure("N", style, mm);
    painter.translate(rect.center());
    painter.rotate(northAngle(frame));
    const double half = std::min(rect.height(), rect.width() * 1.6) / 2;
    drawText(painter, {-size.width / 2, -half + size.ascent}, 0, "N", style, mm);
    const double top = -half + size.ascent + 1.1 * mm, w = 1.5 * mm;
    painter.setPen(Qt::NoPen);
    painter.setBrush(qt(style.colour));
    painter.drawPolygon(QPolygonF({{0, top}, {w, half}, {0, half - 1.4 * mm}, {-w, half}}));
    painter.restore();
}

}  // namespace ledge::carto
