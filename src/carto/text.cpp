#include "carto/text.h"

#include "core/base/constants.h"

#include <QFontMetricsF>
#include <QPainterPath>

#include "carto/map_frame.h"

namespace ledge::carto {
namespace {
// Layout happens at one large size and is scaled, so that screen, picture and PDF break and place
// text alike, and sizes need not be whole pixels.
constexpr int kDesignPx = 200;

QFont fontOf(const TextStyle& style) {
    QFont font(style.font.empty() ? kOwnFont : QString::fromStdString(style.font));
    font.setPixelSize(kDesignPx);
    font.setWeight(style.isBold ? QFont::DemiBold : QFont::Normal);
    font.setItalic(style.isItalic);
    font.setHintingPreference(QFont::PreferNoHinting);
    if (style.letterSpacing != 0)
        font.setLetterSpacing(QFont::AbsoluteSpacing, style.letterSpacing * kDesignPx);
    return font;
}

double scaleOf(const TextStyle& style, double pxPerMm) {
    return style.sizePt * kMmPerPoint * pxPerMm / kDesignPx;
}
}  // namespace

label::TextSize measure(const QString& text, const TextStyle& style, double pxPerMm) {
    const QFontMetricsF metrics(fontOf(style));
    const double k = scaleOf(style, pxPerMm);
    // Cap height instead of the font's ascent: labels hold figures and capitals, no accents above.
    return {metrics.horizontalAdvance(text) * k, metrics.capHeight() * 1.08 * k,
            metrics.descent() * 0.8 * k};
}

QStringList wrapped(const QString& text, const TextStyle& style, double widthPx, double pxPerMm) {
    QStringList out;
    for (const QString& paragraph : text.split('\n')) {
        QString line;
        for (const QString& word : paragraph.split(' ')) {
            const QString longer = line.isEmpty() ? word : line + ' ' + word;
            if (!line.isEmpty() && measure(longer, style, pxPerMm).width > widthPx) {
                out << line;
                line = word;
            } else {
                line = longer;
            }
        }
        out << line;
    }
    return out;
}

void drawText(QPainter& painter, Point origin, double angle, const QString& text,
              const TextStyle& style, double pxPerMm) {
    const double k = scaleOf(style, pxPerMm);
    painter.save();
    painter.translate(origin.x, origin.y);
    painter.rotate(angle * kDegreesPerRadian);
    painter.scale(k, k);
    const QFont font = fontOf(style);
    if (style.hasHalo) {
        QPainterPath path;
        path.addText(0, 0, font, text);
        const double width = 2 * style.haloMm * pxPerMm / k;
        painter.strokePath(path,
                           QPen(qt(style.halo), width, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
    }
    painter.setFont(font);
    painter.setPen(qt(style.colour));
    painter.drawText(QPointF(0, 0), text);
    painter.restore();
}

}  // namespace ledge::carto
