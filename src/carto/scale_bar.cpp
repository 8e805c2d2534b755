#include "carto/scale_bar.h"

#include "carto/text.h"
#include "core/base/numbers.h"

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

namespace {
const NamedLength* unitNamed(const std::string& name) {
    for (const NamedLength& unit : scaleBarUnits())
        if (unit.name == name) return &unit;
    return nullptr;
}

// One bar of several forms; `up`: numbers above it.
class Bar {
public:
    Bar(QPainter& painter, const ScaleBar& bar, const doc::ScaleBarItem& item, double mm)
        : m_painter(painter), m_bar(bar), m_item(item),
          m_mm(mm), m_style{item.sizePt, false, false, kInk, false, 0} {}

    double leftPx() const {
        return m_item.leftDivisions > 0 ? m_bar.lengthPx / m_bar.divisions : 0;
    }
    void paint(QPointF at, bool up) const {
        m_painter.save();
        m_painter.setRenderHint(QPainter::Antialiasing);
        m_painter.setPen(QPen(qt(kInk), 0.2 * m_mm));
        std::vector<double> edges;  // pixels from zero
        for (int i = m_item.leftDivisions; i > 0; --i)
            edges.push_back(-leftPx() * i / m_item.leftDivisions);
        for (int i = 0; i <= m_bar.divisions; ++i)
            edges.push_back(m_bar.lengthPx * i / m_bar.divisions);
        const double heightPx = draw(at, edges, up);
        for (int i = 0; i <= m_bar.divisions; ++i)
            number(at, m_bar.lengthPx * i / m_bar.divisions, i == m_bar.divisions, up, heightPx);
        if (leftPx() > 0) number(at, -leftPx(), false, up, heightPx);
        m_painter.restore();
    }

private:
    // Returns how far it reaches from the baseline towards the numbers.
    double draw(QPointF at, const std::vector<double>& edges, bool up) const {
        const double way = up ? -1 : 1, tick = 1.3 * m_mm;
        const auto line = [&](double x0, double y0, double x1, double y1) {
            m_painter.drawLine(at + QPointF(x0, way * y0), at + QPointF(x1, way * y1));
        };
        switch (m_item.form) {
        case doc::BarForm::Hairline:
            line(edges.front(), 0, edges.back(), 0);
            for (const double x : edges) line(x, 0, x, tick);
            return tick;
        case doc::BarForm::Rail:
            line(edges.front(), 0, edges.back(), 0);
            line(edges.front(), 0, edges.front(), tick);
            line(edges.back(), 0, edges.back(), tick);
            line(0, 0, 0, tick);
            return tick;
        case doc::BarForm::Blocks:
            for (std::size_t i = 0; i + 1 < edges.size(); ++i)
                block(at, edges[i], edges[i + 1], 0, tick, i % 2 == 0, way);
            return tick;
        case doc::BarForm::Steps:
            for (std::size_t i = 0; i + 1 < edges.size(); ++i) {
                block(at, edges[i], edges[i + 1], 0, tick * 0.6, i % 2 == 0, way);
                block(at, edges[i], edges[i + 1], tick * 0.6, tick * 1.2, i % 2 == 1, way);
            }
            return tick * 1.2;
        }
        return tick;
    }
    void block(QPointF at, double x0, double x1, double y0, double y1, bool isDark,
               double way) const {
        m_painter.setBrush(isDark ? qt(kInk) : QColor(Qt::white));
        m_painter.drawRect(
            QRectF(at + QPointF(x0, way * y0), at + QPointF(x1, way * y1)).normalized());
    }
    void number(QPointF at, double x, bool isLast, bool up, double heightPx) const {
        const double metresPerPx = m_bar.metres / m_bar.lengthPx;
        const QString number =
            QString::fromStdString(formatNumber(std::abs(x) * metresPerPx / m_bar.unit.metres));
        const auto size = measure(number, m_style, m_mm);
        const QString said =
            isLast ? number + QChar(0xA0) + QString::fromStdString(m_bar.unit.name) : number;
        const double away = heightPx + 0.9 * m_mm;
        drawText(m_painter,
                 {at.x() + x - size.width / 2, up ? at.y() - away : at.y() + away + size.ascent}, 0,
                 said, m_style, m_mm);
    }
    static constexpr Colour kInk{0x23, 0x26, 0x3F};
    QPainter& m_painter;
    const ScaleBar& m_bar;
    const doc::ScaleBarItem& m_item;
    double m_mm;
    TextStyle m_style;
};
}  // namespace

ScaleBar scaleBarFor(const MapFrame& frame, double roomPx, LengthUnit unit,
                     const doc::ScaleBarItem& item) {
    ScaleBar bar = scaleBarFor(frame, roomPx, unit);
    const double metresPerPx = frame.unitsPerPx() * frame.groundMetresPerUnit();
    if (!(bar.metres > 0)) return bar;
    if (const NamedLength* named = unitNamed(item.unit)) {
        bar.unit = *named;
        bar.metres = roundDownTo125(metresPerPx * roomPx / named->metres) * named->metres;
    }
    if (item.length > 0) bar.metres = item.length * bar.unit.metres;
    bar.lengthPx = bar.metres / metresPerPx;
    if (item.divisions > 0) bar.divisions = item.divisions;
    return bar;
}

void paintScaleBar(QPainter& painter, const QRectF& rect, const MapFrame& frame, LengthUnit unit,
                   const doc::ScaleBarItem& item, double mm) {
    const double room = std::min(rect.width() - 12 * mm, frame.widthPx / 3.0);
    const ScaleBar bar = scaleBarFor(frame, room, unit, item);
    if (!(bar.metres > 0) || !(bar.lengthPx < 1e6)) return;
    const Bar first(painter, bar, item, mm);
    // Its left end leaves room for half of the first number.
    const QPointF at(rect.left() + 2 * mm + first.leftPx(),
                     rect.top() + item.sizePt * kMmPerPoint * mm * 0.75 + 4.15 * mm);
    first.paint(at, true);
    if (item.secondUnit.empty()) return;
    doc::ScaleBarItem below = item;
    below.unit = item.secondUnit, below.secondUnit.clear();
    below.length = 0, below.divisions = 0;
    const ScaleBar other = scaleBarFor(frame, std::max(bar.lengthPx * 1.05, 5 * mm), unit, below);
    if (other.metres > 0) Bar(painter, other, below, mm).paint(at, false);
}

}  // namespace ledge::carto
