#include "carto/sheet/chart_painter.h"

#include <QObject>
#include <algorithm>
#include <cmath>

#include "carto/legend.h"
#include "carto/map_frame.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"
#include "core/query/row_values.h"
#include "document/look_finder.h"
#include "document/map_crs.h"

namespace ledge::carto {
namespace {
const Colour kInk{0x23, 0x26, 0x3F}, kMuted{0x6B, 0x6F, 0x8E}, kLine{0xD5, 0xD7, 0xE8};


QString number(double value, double step) {
    const int decimals = std::clamp(static_cast<int>(std::ceil(-std::log10(step) - 1e-9)), 0, 9);
    return qtext(formatNumber(value, {decimals, true}));
}

class Counter {
public:
    Counter(const doc::VectorStyle& style, const doc::ChartItem& item, const FeatureTable& table)
        : m_style(style), m_item(item), m_table(table) {}

    Result<ChartBars> histogram() const {
        ChartBars out;
        auto values = query::RowValues::of(m_item.field, m_table);
        if (!values) return values.error();
        std::vector<double> numbers;
        for (std::size_t row = 0; row < m_table.size(); ++row) {
            const double v = values->number(row);
            if (std::isfinite(v))
                numbers.push_back(v);
            else
                ++out.missing;
        }
        if (numbers.empty()) return out;
        const auto [low, high] = std::minmax_element(numbers.begin(), numbers.end());
        const double span = *high - *low;
        const double width = span > 0 ? roundUpToInterval(span / m_item.bins) : 1;
        const double first = std::floor(*low / width) * width;
        const auto count = static_cast<std::size_t>(std::floor((*high - first) / width)) + 1;
        out.bars.resize(std::min<std::size_t>(count, 2000));
        for (std::size_t i = 0; i < out.bars.size(); ++i) {
            ChartBars::Bar& bar = out.bars[i];
            bar.from = first + static_cast<double>(i) * width, bar.to = bar.from + width;
            bar.colour = classColour((bar.from + bar.to) / 2);
        }
        for (const double v : numbers) {
            const auto bin = static_cast<std::size_t>((v - first) / width);
            out.bars[std::min(bin, out.bars.size() - 1)].value += 1;
        }
        return out;
    }

    Result<ChartBars> bars() const {
        ChartBars out;
        out.isHistogram = false;
        auto values = query::RowValues::of(m_item.field, m_table);
        if (!values) return values.error();
        std::optional<query::RowValues> names;
        if (!m_item.names.empty()) {
            auto read = query::RowValues::of(m_item.names, m_table);
            if (!read) return read.error();
            names = *std::move(read);
        }
        for (std::size_t row = 0; row < m_table.size(); ++row) {
            const double v = values->number(row);
            if (!std::isfinite(v)) {
                ++out.missing;
                continue;
            }
            ChartBars::Bar bar;
            bar.value = v;
            bar.name = names ? qtext(displayText(names->value(row))) : QString::number(row + 1);
            bar.colour = classColour(v);
            out.bars.push_back(bar);
        }
        std::stable_sort(out.bars.begin(), out.bars.end(),
                         [](const auto& a, const auto& b) { return a.value > b.value; });
        cut(out);
        return out;
    }

    // How many rows are drawn by each of the style's classes, categories or rules.
    ChartBars counts() const {
        ChartBars out;
        out.isHistogram = false;
        doc::LookFinder looks(m_style, m_table);
        std::map<int, double> byEntry;
        for (std::size_t row = 0; row < m_table.size(); ++row) byEntry[looks.entryOf(row)] += 1;
        const auto add = [&](std::size_t i, const QString& name, const doc::Look& look) {
            const auto it = byEntry.find(static_cast<int>(i));
            out.bars.push_back({0, 0, it == byEntry.end() ? 0 : it->second, name,
                                look.hasFill ? look.fill : look.stroke});
        };
        const auto& s = m_style;
        if (s.classing == doc::Classing::Categories)
            for (std::size_t i = 0; i < s.categories.size(); ++i)
                add(i,
                    qtext(s.categories[i].label.empty() ? s.categories[i].value
                                                       : s.categories[i].label),
                    s.categories[i].look);
        if (s.classing == doc::Classing::Classes)
            for (std::size_t i = 0; i < s.classes.classes.size(); ++i)
                add(i, classText(s.classes, i, s.numbers), s.classes.classes[i].look);
        if (s.classing == doc::Classing::Rules)
            for (std::size_t i = 0; i < s.rules.size(); ++i)
                add(i, qtext(s.rules[i].label.empty() ? s.rules[i].keep : s.rules[i].label),
                    s.rules[i].look);
        if (out.bars.empty())
            out.bars.push_back(
                {0, 0, static_cast<double>(m_table.size()), QObject::tr("all"), m_item.colour});
        cut(out);
        return out;
    }

private:
    void cut(ChartBars& out) const {
        const auto most = static_cast<std::size_t>(m_item.mostBars);
        if (out.bars.size() <= most) return;
        out.left = out.bars.size() - most;
        out.bars.resize(most);
    }
    Colour classColour(double v) const {
        const auto& rule = m_style.classes;
        const bool isSame = m_style.classing == doc::Classing::Classes && m_style.per.empty() &&
                            m_style.field == m_item.field;
        if (!isSame || rule.classes.empty()) return m_item.colour;
        const std::size_t i = std::min(classify::classOf(v, rule.breaks), rule.classes.size() - 1);
        return rule.classes[i].look.fill;
    }
    const doc::VectorStyle& m_style;
    const doc::ChartItem& m_item;
    const FeatureTable& m_table;
};

class Chart {
public:
    Chart(QPainter& painter, const QRectF& rect, const ChartBars& bars, const doc::ChartItem& item,
          double mm)
        : m_painter(painter), m_rect(rect), m_bars(bars), m_item(item),
          m_mm(mm), m_style{item.sizePt, false, false, kMuted, false, 0},
          m_line(item.sizePt * kMmPerPoint * mm * 1.35) {}

    void histogram() const {
        double most = 0;
        for (const auto& bar : m_bars.bars) most = std::max(most, bar.value);
        const double step = std::max(1.0, roundUpToInterval(most / 4));
        const double top = std::ceil(most / step) * step;
        const double left = measure(number(top, step), m_style, m_mm).width + 1.5 * m_mm;
        const QRectF plot(m_rect.left() + left, m_rect.top() + m_line * 0.6, m_rect.width() - left,
                          m_rect.height() - m_line * 2.9);
        if (plot.width() < 2 || plot.height() < 2) return;
        for (double v = 0; v <= top + step / 2; v += step) {
            const double y = plot.bottom() - plot.height() * v / top;
            m_painter.setPen(QPen(qt(kLine), 0.1 * m_mm));
            m_painter.drawLine(QPointF(plot.left(), y), QPointF(plot.right(), y));
            const QString said = number(v, step);
            say(plot.left() - 1.2 * m_mm - measure(said, m_style, m_mm).width, y + m_line * 0.25,
                said);
        }
        const double from = m_bars.bars.front().from, to = m_bars.bars.back().to;
        const auto x = [&](double v) {
            return plot.left() + plot.width() * (v - from) / (to - from);
        };
        for (const auto& bar : m_bars.bars) {
            if (bar.value <= 0) continue;
            const double height = plot.height() * bar.value / top;
            fill(QRectF(x(bar.from), plot.bottom() - height, x(bar.to) - x(bar.from), height)
                     .adjusted(0.05 * m_mm, 0, -0.05 * m_mm, 0),
                 bar.colour);
        }
        m_painter.setPen(QPen(qt(kInk), 0.15 * m_mm));
        m_painter.drawLine(plot.bottomLeft(), plot.bottomRight());
        const double apart = roundUpToInterval((to - from) / 5);
        for (double v = std::ceil(from / apart) * apart; v <= to + apart * 1e-6; v += apart) {
            m_painter.drawLine(QPointF(x(v), plot.bottom()),
                               QPointF(x(v), plot.bottom() + 0.7 * m_mm));
            const QString said = number(v, apart);
            const double width = measure(said, m_style, m_mm).width;
            say(std::clamp(x(v) - width / 2, m_rect.left(),
                           std::max(m_rect.left(), m_rect.right() - width)),
                plot.bottom() + m_line, said);
        }
        QString title = qtext(m_item.title.empty() ? m_item.field : m_item.title);
        if (m_bars.missing > 0)
            title += QObject::tr(" · %n without", "", static_cast<int>(m_bars.missing));
        say(plot.left() + (plot.width() - measure(title, m_style, m_mm).width) / 2,
            plot.bottom() + 2.1 * m_line, title);
    }

    void bars() const {
        double most = 0, least = 0, names = 0, numbers = 0;
        for (const auto& bar : m_bars.bars) {
            most = std::max(most, bar.value), least = std::min(least, bar.value);
            names = std::max(names, measure(bar.name, m_style, m_mm).width);
            numbers =
                std::max(numbers, measure(qtext(formatNumber(bar.value)), m_style, m_mm).width);
        }
        names = std::min(names, m_rect.width() * 0.4);
        const double left = m_rect.left() + names + 1.5 * m_mm;
        const double room = m_rect.right() - left - numbers - 1.5 * m_mm;
        double y = m_rect.top();
        if (!m_item.title.empty()) {
            TextStyle bold = m_style;
            bold.isBold = true, bold.colour = kInk;
            drawText(m_painter, {m_rect.left(), y + m_line * 0.75}, 0, qtext(m_item.title), bold,
                     m_mm);
            y += m_line * 1.4;
        }
        const double foot = m_bars.left + m_bars.missing > 0 ? m_line : 0;
        const double each = std::min(m_line * 1.8, (m_rect.bottom() - foot - y) /
                                                       static_cast<double>(m_bars.bars.size()));
        if (!(room > 0) || !(each > 0)) return;
        const double span = most - least;
        const double zero = left + (span > 0 ? room * -least / span : 0);
        for (const auto& bar : m_bars.bars) {
            QString name = bar.name;
            while (name.size() > 1 && measure(name, m_style, m_mm).width > names * 1.001)
                name = name.chopped(name.endsWith(QChar(0x2026)) ? 2 : 1) + QChar(0x2026);
            const double base = y + each / 2 + m_line * 0.25;
            say(left - 1.5 * m_mm - measure(name, m_style, m_mm).width, base, name);
            const double length = span > 0 ? room * bar.value / span : 0;
            fill(QRectF(zero, y + each * 0.14, length, each * 0.72).normalized(), bar.colour);
            say(std::max(zero, zero + length) + 1 * m_mm, base, qtext(formatNumber(bar.value)));
            y += each;
        }
        m_painter.setPen(QPen(qt(kInk), 0.15 * m_mm));
        m_painter.drawLine(QPointF(zero, m_rect.top() + (m_item.title.empty() ? 0 : m_line * 1.4)),
                           QPointF(zero, y));
        QStringList more;
        if (m_bars.left > 0) more << QObject::tr("and %n more", "", static_cast<int>(m_bars.left));
        if (m_bars.missing > 0)
            more << QObject::tr("%n without", "", static_cast<int>(m_bars.missing));
        if (!more.isEmpty()) say(m_rect.left(), y + m_line * 0.8, more.join(" · "));
    }

private:
    void say(double x, double baseline, const QString& said) const {
        drawText(m_painter, {x, baseline}, 0, said, m_style, m_mm);
    }
    void fill(const QRectF& rect, Colour colour) const { m_painter.fillRect(rect, qt(colour)); }
    QPainter& m_painter;
    QRectF m_rect;
    const ChartBars& m_bars;
    const doc::ChartItem& m_item;
    double m_mm;
    TextStyle m_style;
    double m_line;
};
}  // namespace

Result<ChartBars> chartBars(const doc::Document& document, const doc::ChartItem& item,
                            const doc::DrawingData& data) {
    const doc::Layer* layer = document.layer(item.layer);
    const auto* vector = layer ? layer->as<doc::VectorLayer>() : nullptr;
    const doc::SourceRef* source = layer ? document.source(layer->source) : nullptr;
    if (!vector || !source)
        return Error{ErrorCode::NotFound, "chart", "its layer is no longer there",
                     "choose a layer with features for this item"};
    const auto features = data.features(doc::readBy(*layer, *source), doc::mapCrs(document));
    if (!features) return features.error();
    const Counter counter(vector->style, item, *(*features)->table);
    if (item.field.empty()) {
        if (item.form == doc::ChartForm::Bars) return counter.counts();
        return Error{ErrorCode::InvalidArgument, "chart", "no field is chosen",
                     "choose the field or write the formula whose values it shows"};
    }
    return item.form == doc::ChartForm::Histogram ? counter.histogram() : counter.bars();
}

void paintChart(QPainter& painter, const QRectF& rect, const ChartBars& bars,
                const doc::ChartItem& item, double mm) {
    if (bars.bars.empty()) return;
    const Chart chart(painter, rect, bars, item, mm);
    bars.isHistogram ? chart.histogram() : chart.bars();
}

}  // namespace ledge::carto
