#include "app/sheet/page_rulers.h"

#include <cmath>

#include "app/theme.h"
#include "core/base/numbers.h"

namespace ledge::app {

void paintRulers(QPainter& painter, const PageView& view, const doc::Sheet& sheet,
                 const doc::SheetItem* shaded) {
    const double k = view.pxPerMm;
    const QPointF from = view.origin;
    const int width = view.canvas.width(), height = view.canvas.height();
    const auto& t = theme();
    painter.fillRect(QRectF(0, 0, width, kRulerPx), t.stone);
    painter.fillRect(QRectF(0, 0, kRulerPx, height), t.stone);
    if (shaded) {
        const QRectF box = view.boxOf(shaded->rect);
        QColor shade = t.lichen;
        shade.setAlpha(70);
        painter.fillRect(QRectF(box.left(), 0, box.width(), kRulerPx), shade);
        painter.fillRect(QRectF(0, box.top(), kRulerPx, box.height()), shade);
    }
    const double step = roundUpToInterval(48 / k);
    painter.setPen(t.muted);
    QFont font = painter.font();
    font.setPixelSize(9);
    painter.setFont(font);
    const double fine = step / 5;
    const auto ticks = [&](double length, double start, double end, const auto& draw) {
        for (double mm = std::ceil((0 - start) / k / fine) * fine; start + mm * k < end;
             mm += fine) {
            if (mm < -1e-9 || mm > length + 1e-9) continue;
            const bool isLong = std::abs(mm / step - std::round(mm / step)) < 1e-6;
            draw(start + mm * k, isLong ? QString::number(std::round(mm * 100) / 100) : QString());
        }
    };
    ticks(sheet.widthMm, from.x(), width, [&](double at, const QString& said) {
        if (at < kRulerPx) return;
        painter.drawLine(QPointF(at, kRulerPx), QPointF(at, said.isEmpty() ? kRulerPx - 4 : 4));
        if (!said.isEmpty()) painter.drawText(QPointF(at + 2, 10), said);
    });
    ticks(sheet.heightMm, from.y(), height, [&](double at, const QString& said) {
        if (at < kRulerPx) return;
        painter.drawLine(QPointF(kRulerPx, at), QPointF(said.isEmpty() ? kRulerPx - 4 : 4, at));
        if (said.isEmpty()) return;
        painter.save();
        painter.translate(10, at - 2);
        painter.rotate(-90);
        painter.drawText(QPointF(0, 0), said);
        painter.restore();
    });
    painter.fillRect(QRectF(0, 0, kRulerPx, kRulerPx), t.stone);
    painter.drawText(QRectF(0, 0, kRulerPx, kRulerPx), Qt::AlignCenter, "mm");
}

}  // namespace ledge::app
