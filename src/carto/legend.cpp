#include "carto/legend.h"

#include <QObject>

#include "carto/swatch.h"

namespace ledge::carto {
namespace {
constexpr double kGapMm = 2.5, kRampMm = 34, kLeastPt = 5, kGroupTimes = 1.15;
// Samples keep their shape.
double patchHeightMm(const doc::LegendItem& item) { return item.patchMm * 4 / 7; }

// Only the land is drawn beside the numbers; the sea is told by its place on the map.
Ramp aboveZero(const Ramp& ramp) {
    if (!(ramp.low() < 0 && ramp.high() > 0)) return ramp;
    Ramp out;
    for (const RampStop& stop : ramp.stops)
        if (stop.value > 0 || (stop.value == 0 && (out.stops.empty() || stop.value == 0)))
            out.stops.push_back(stop);
    // Of the two stops at the shore the second is the land's.
    if (out.stops.size() > 1 && out.stops[0].value == 0 && out.stops[1].value == 0)
        out.stops.erase(out.stops.begin());
    return out;
}

// One size of type and samples: how high and wide entries are.
class Measure {
public:
    Measure(const doc::LegendItem& item, double mm) : m_item(item), m_mm(mm) {}
    double line() const { return m_item.sizePt * kMmPerPoint * m_mm; }
    double patchWidth() const { return m_item.patchMm * m_mm; }
    double patchHeight() const { return patchHeightMm(m_item) * m_mm; }
    double textLeft(const LegendEntry& e) const {
        return e.isHeading || e.ramp || !e.circles.empty() ? 0 : patchWidth() + 2 * m_mm;
    }
    TextStyle styleOf(const LegendEntry& e) const {
        TextStyle style;
        style.sizePt = m_item.sizePt * (e.isGroup ? kGroupTimes : 1);
        style.isBold = e.isHeading;
        style.font = m_item.font;
        return style;
    }
    QStringList linesOf(const LegendEntry& e, double column) const {
        return wrapped(e.text, styleOf(e), column - textLeft(e) - m_mm, m_mm);
    }
    /// What no line break makes narrower.
    double leastWidth(const LegendEntry& e) const {
        double out = textLeft(e);
        if (e.ramp) out = std::max(out, 20 * m_mm);
        for (const QString& word : e.text.split(' '))
            out = std::max(out, textLeft(e) + measure(word, styleOf(e), m_mm).width + m_mm);
        return out;
    }
    double height(const LegendEntry& e, double column) const {
        const auto more = static_cast<double>(linesOf(e, column).size() - 1) * line() * 1.2;
        if (e.isGroup) return line() * 1.25 * kGroupTimes + more * kGroupTimes + 1.2 * m_mm;
        if (e.isHeading) return line() * 1.25 + more + 0.8 * m_mm;
        if (e.ramp) return line() + more + 4.2 * m_mm + line() * 1.2 + kGapMm * m_mm * 0.6;
        if (!e.circles.empty())
            return line() * 1.3 + more +
                   std::max(e.circles.front().mm * m_mm,
                            line() * static_cast<double>(e.circles.size())) +
                   kGapMm * m_mm;
        return std::max(patchHeight(), line() + more) + kGapMm * m_mm * 0.6;
    }

private:
    const doc::LegendItem& m_item;
    double m_mm;
};

// Marks of three sizes standing in one another, each led to its number.
void paintCircles(QPainter& painter, QPointF at, const LegendEntry& e, const TextStyle& style,
                  double patchMm, double mm) {
    const double line = style.sizePt * kMmPerPoint * mm;
    const double largest = e.circles.front().mm * mm;
    const double top = at.y() + line * 0.3;
    const double bottom = top + std::max(largest, line * static_cast<double>(e.circles.size()));
    const double middle = at.x() + std::max(largest, patchMm * mm) / 2;
    const double right = middle + largest / 2 + 1.5 * mm;
    TextStyle small = style;
    small.sizePt *= 0.86;
    double free = top;  // numbers stand below one another even where tops of marks do not
    for (const LegendEntry::Circle& circle : e.circles) {
        const double d = circle.mm * mm;
        doc::Look look = e.look;
        look.markMm = circle.mm;
        drawSample(painter, QRectF(middle - d / 2, bottom - d, d, d), GeometryType::Point, look,
                   mm);
        const double y = std::max(bottom - d, free + line * 0.4);
        painter.setPen(QPen(qt(Colour{0x6B, 0x6F, 0x8E}), std::max(0.5, 0.1 * mm)));
        painter.drawLine(QPointF(middle, bottom - d), QPointF(right - 0.4 * mm, y));
        drawText(painter, {right, y + line * 0.3}, 0, circle.text, small, mm);
        free = y + line * 0.55;
    }
}

void paintRampEntry(QPainter& painter, QPointF at, double width, const LegendEntry& e,
                    TextStyle style, double mm) {
    const double line = style.sizePt * kMmPerPoint * mm;
    const double barWidth = std::min(width - 4 * mm, kRampMm * mm);
    const QRectF bar(at.x(), at.y() + 0.6 * mm, barWidth, 2.6 * mm);
    drawRamp(painter, bar, aboveZero(*e.ramp));
    style.sizePt *= 0.86;
    style.colour = {0x55, 0x59, 0x78};
    const double baseline = at.y() + 0.6 * mm + 2.6 * mm + line;
    const auto say = [&](double x, const QString& what) {
        drawText(painter, {at.x() + x, baseline}, 0, what, style, mm);
    };
    say(0, e.low);
    say(barWidth / 2 - measure(e.middle, style, mm).width / 2, e.middle);
    say(barWidth - measure(e.high.section(QChar(0xA0), 0, 0), style, mm).width, e.high);
}

void paintEntry(QPainter& painter, QPointF at, double width, const LegendEntry& e,
                const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const TextStyle style = measured.styleOf(e);
    const QStringList lines = measured.linesOf(e, width);
    const double line = measured.line() * (e.isGroup ? kGroupTimes : 1),
                 left = measured.textLeft(e);
    const bool isPatch = left > 0;
    // Beside a sample the first line stands at its middle.
    double baseline = at.y() + (isPatch ? measured.patchHeight() / 2 + line * 0.36 : line * 0.85);
    if (e.isHeading) baseline = at.y() + line;
    for (const QString& said : lines) {
        drawText(painter, {at.x() + left, baseline}, 0, said, style, mm);
        baseline += line * 1.2;
    }
    const QPointF below(at.x(), at.y() + line + static_cast<double>(lines.size() - 1) * line * 1.2);
    if (e.ramp) return paintRampEntry(painter, below, width, e, style, mm);
    if (!e.circles.empty()) return paintCircles(painter, below, e, style, item.patchMm, mm);
    if (isPatch)
        drawSample(painter, QRectF(at, QSizeF(measured.patchWidth(), measured.patchHeight())),
                   e.geometry, e.look, mm);
}

double titleHeight(const doc::LegendItem& item, double mm) {
    return item.title.empty() ? 0 : item.sizePt * 1.2 * kMmPerPoint * mm * 1.6;
}

// Entries one below the other, going on in the next column when the wanted height is reached.
LegendLayout laidOut(const QRectF& rect, const std::vector<LegendEntry>& entries,
                     const doc::LegendItem& item, double mm, double wanted) {
    const Measure measured(item, mm);
    LegendLayout out;
    out.sizePt = item.sizePt, out.columns = std::max(1, item.columns);
    out.columnPx = rect.width() / out.columns;
    const double top = titleHeight(item, mm);
    double y = top;
    int column = 0;
    for (std::size_t i = 0; i < entries.size(); ++i) {
        const double height = measured.height(entries[i], out.columnPx);
        // A heading stays with what it heads.
        double needed = height;
        for (std::size_t k = i; entries[k].isHeading && k + 1 < entries.size(); ++k)
            needed += measured.height(entries[k + 1], out.columnPx);
        if (column + 1 < out.columns && y > top && y - top + needed / 2 > wanted) {
            ++column;
            y = top;
        }
        // The gap after the last entry may be beyond the edge.
        if (y + needed - kGapMm * mm > rect.height() && column + 1 < out.columns && y > top) {
            ++column;
            y = top;
        }
        if (y + height - kGapMm * mm > rect.height() * (1 + 1e-9)) {
            out.leftOut = entries.size() - i;
            break;
        }
        out.places.push_back({column * out.columnPx, y});
        y += height;
        out.height = std::max(out.height, y);
    }
    out.width = std::min(rect.width(), out.columnPx * (column + 1));
    return out;
}

LegendLayout balanced(const QRectF& rect, const std::vector<LegendEntry>& entries,
                      const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const int columns = std::max(1, item.columns);
    double total = 0;
    for (const LegendEntry& e : entries) total += measured.height(e, rect.width() / columns);
    return laidOut(rect, entries, item, mm, total / columns);
}

bool isWideEnough(const QRectF& rect, const std::vector<LegendEntry>& entries,
                  const doc::LegendItem& item, double mm) {
    const Measure measured(item, mm);
    const double column = rect.width() / std::max(1, item.columns);
    return std::all_of(entries.begin(), entries.end(), [&](const LegendEntry& e) {
        return measured.leastWidth(e) <= column * (1 + 1e-9);
    });
}
}  // namespace

LegendLayout legendLayout(const QRectF& rect, const std::vector<LegendEntry>& entries,
                          const doc::LegendItem& item, double mm) {
    LegendLayout first = balanced(rect, entries, item, mm);
    if (!item.fits || (first.leftOut == 0 && isWideEnough(rect, entries, item, mm))) return first;
    // Columns give way before type does.
    for (double size = item.sizePt; size >= std::min(kLeastPt, item.sizePt) - 1e-9; size *= 0.94)
        for (const int more : {0, 1, -1, 2, -2, 3, -3}) {
            doc::LegendItem tried = item;
            tried.columns = item.columns + more;
            if (tried.columns < 1 || tried.columns > 12) continue;
            tried.sizePt = size;
            tried.patchMm = item.patchMm * size / item.sizePt;
            if (!isWideEnough(rect, entries, tried, mm)) continue;
            LegendLayout out = balanced(rect, entries, tried, mm);
            if (out.leftOut == 0) return out;
        }
    return first;
}

double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double mm) {
    const LegendLayout layout = legendLayout(rect, entries, item, mm);
    doc::LegendItem shown = item;
    shown.patchMm *= item.sizePt > 0 ? layout.sizePt / item.sizePt : 1;
    shown.sizePt = layout.sizePt;
    TextStyle title{layout.sizePt * 1.2, true, false, {0x23, 0x26, 0x3F}, false, 0};
    title.font = item.font;
    if (!item.title.empty())
        drawText(painter, {rect.left(), rect.top() + title.sizePt * kMmPerPoint * mm}, 0,
                 QString::fromStdString(item.title), title, mm);
    for (std::size_t i = 0; i < layout.places.size(); ++i)
        paintEntry(painter, rect.topLeft() + QPointF(layout.places[i].x, layout.places[i].y),
                   layout.columnPx, entries[i], shown, mm);
    if (layout.leftOut > 0) {
        TextStyle style{std::min(6.0, layout.sizePt), false, true, {0xB4, 0x53, 0x2A}, false, 0};
        drawText(painter, {rect.left(), rect.bottom() - 0.6 * mm}, 0,
                 QObject::tr("and %n more", "", static_cast<int>(layout.leftOut)), style, mm);
    }
    return layout.height;
}

}  // namespace ledge::carto
