#include "carto/label_text.h"

#include "carto/map_frame.h"
#include "core/base/constants.h"

namespace ledge::carto {
namespace {
// Lines of at most so many characters where there are blanks to break at.
QStringList wrapped(const QString& text, int most) {
    QStringList out;
    for (const QString& line : text.split('\n')) {
        QString now;
        for (const QString& word : line.split(' ', Qt::SkipEmptyParts)) {
            if (most > 0 && !now.isEmpty() && now.size() + 1 + word.size() > most) {
                out << now;
                now.clear();
            }
            now += (now.isEmpty() ? "" : " ") + word;
        }
        out << now;
    }
    return out;
}
}  // namespace

QString labelled(const Value& value, const doc::LabelStyle& labels) {
    if (isMissing(value)) return {};
    const bool isNumber =
        std::holds_alternative<double>(value) || std::holds_alternative<std::int64_t>(value);
    return QString::fromStdString(isNumber ? formatNumber(numberOf(value), labels.numbers)
                                           : displayText(value));
}

LabelText set(const QString& text, const doc::LabelStyle& labels, double sizePt, double pxPerMm) {
    LabelText out;
    out.style = {sizePt,        labels.isBold,  labels.isItalic,
                 labels.colour, labels.hasHalo, labels.letterSpacing,
                 labels.font,   labels.halo,    labels.haloMm};
    QString written = text;
    written.replace("\\n", "\n");
    out.lines = wrapped(labels.isUpper ? written.toUpper() : written, labels.wrapAt);
    out.hasBackground = labels.hasBackground;
    out.background = labels.background;
    out.lineHeight = sizePt * kMmPerPoint * pxPerMm * labels.lineSpacing;
    for (const QString& line : out.lines) {
        const auto size = measure(line, out.style, pxPerMm);
        out.size.width = std::max(out.size.width, size.width);
        out.size.ascent = size.ascent;
        out.size.descent = size.descent;
    }
    out.size.descent += out.lineHeight * static_cast<double>(out.lines.size() - 1);
    return out;
}

bool LabelText::canBend() const {
    if (lines.size() != 1) return false;
    for (const QChar c : lines.front()) {
        const auto way = c.direction();
        if (way == QChar::DirR || way == QChar::DirAL || c.isMark() || c.isSurrogate() ||
            c.script() == QChar::Script_Devanagari || c.script() == QChar::Script_Bengali ||
            c.script() == QChar::Script_Thai || c.script() == QChar::Script_Tamil)
            return false;
    }
    return !lines.front().isEmpty();
}

std::vector<double> LabelText::advances(double pxPerMm, double moreSpacing) const {
    std::vector<double> out;
    const QString& text = lines.front();
    const double more = moreSpacing * style.sizePt * kMmPerPoint * pxPerMm;
    double before = 0;
    for (qsizetype i = 1; i <= text.size(); ++i) {
        // By growing beginnings, so that pairs of letters keep their kerning.
        const double width = measure(text.left(i), style, pxPerMm).width;
        out.push_back(std::max(0.01, width - before) + more);
        before = width;
    }
    return out;
}

void drawLabel(QPainter& painter, const LabelText& text, Point origin, double angle,
               TextAlign align, double pxPerMm) {
    const Point along{std::cos(angle), std::sin(angle)}, down{-along.y, along.x};
    if (text.hasBackground) {
        const double pad = 0.5 * pxPerMm;
        painter.save();
        painter.translate(origin.x, origin.y);
        painter.rotate(angle * kDegreesPerRadian);
        painter.setPen(Qt::NoPen);
        painter.setBrush(qt(text.background));
        painter.drawRect(QRectF(-pad, -text.size.ascent - pad, text.size.width + 2 * pad,
                                text.size.ascent + text.size.descent + 2 * pad));
        painter.restore();
    }
    for (qsizetype i = 0; i < text.lines.size(); ++i) {
        const double spare = text.size.width - measure(text.lines[i], text.style, pxPerMm).width;
        const double right = align == TextAlign::Left     ? 0
                             : align == TextAlign::Centre ? spare / 2
                                                          : spare;
        drawText(painter, origin + along * right + down * (text.lineHeight * double(i)), angle,
                 text.lines[i], text.style, pxPerMm);
    }
}

void drawLetters(QPainter& painter, const LabelText& text, std::span<const label::Letter> letters,
                 double pxPerMm) {
    const QString& line = text.lines.front();
    // All halos first, so that none covers a letter beside it.
    TextStyle style = text.style;
    style.letterSpacing = 0;
    const Colour ink = style.colour;
    for (const bool isHalo : {true, false}) {
        if (isHalo && !text.style.hasHalo) continue;
        style.hasHalo = isHalo;
        style.colour = isHalo ? Colour{ink.r, ink.g, ink.b, 0} : ink;
        for (std::size_t i = 0; i < letters.size() && static_cast<qsizetype>(i) < line.size(); ++i)
            drawText(painter, letters[i].origin, letters[i].angleRadians,
                     line.mid(static_cast<qsizetype>(i), 1), style, pxPerMm);
    }
}

}  // namespace ledge::carto
