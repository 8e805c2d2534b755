#include "app/widgets/break_view.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <algorithm>
#include <cmath>

#include "app/theme.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
constexpr std::size_t kBars = 60;
constexpr double kReachPx = 7;

// Four digits tell where a number stands in a picture of 200 pixels.
QString text(double value) {
    const auto rounded = parseNumber(roundedNumber(value, 4));
    return QString::fromStdString(formatNumber(rounded ? *rounded : value));
}
}  // namespace

BreakView::BreakView(QWidget* parent) : QWidget(parent) {
    setObjectName("breakView");
    setAccessibleName(tr("Spread of the numbers, and breaks between classes"));
    setToolTip(tr("Drag a break; double-click for one more; Delete takes the chosen one out. "
                  "Page Up and Page Down choose, arrows move."));
    setFixedHeight(96);
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
}

void BreakView::show(std::shared_ptr<const classify::Sample> sample, std::vector<double> breaks,
                     std::vector<Colour> colours) {
    if (sample != m_sample) m_chosen.reset();
    m_sample = std::move(sample);
    m_breaks = std::move(breaks);
    m_colours = std::move(colours);
    if (m_chosen && *m_chosen >= m_breaks.size()) m_chosen.reset();
    m_bars.clear();
    if (m_sample && !m_sample->isEmpty()) {
        m_low = m_sample->low();
        m_high = m_sample->high() > m_low ? m_sample->high() : m_low + 1;
        m_bars = m_sample->histogram(kBars, m_low, m_high);
        setAccessibleDescription(
            tr("From %1 to %2, %3 breaks").arg(text(m_low), text(m_high)).arg(m_breaks.size()));
    }
    update();
}

QRectF BreakView::plot() const { return QRectF(rect()).adjusted(6, 6, -6, -20); }
double BreakView::xOf(double number) const {
    const QRectF area = plot();
    return area.left() + (number - m_low) / (m_high - m_low) * area.width();
}
double BreakView::numberAt(double x) const {
    const QRectF area = plot();
    return m_low + std::clamp((x - area.left()) / area.width(), 0.0, 1.0) * (m_high - m_low);
}

std::optional<std::size_t> BreakView::breakAt(double x) const {
    std::optional<std::size_t> best;
    double nearest = kReachPx;
    for (std::size_t i = 0; i < m_breaks.size(); ++i)
        if (const double away = std::abs(xOf(m_breaks[i]) - x); away <= nearest)
            nearest = away, best = i;
    return best;
}

void BreakView::choose(std::optional<std::size_t> i) {
    m_chosen = i;
    setAccessibleDescription(i ? tr("Break %1 at %2").arg(*i + 1).arg(text(m_breaks[*i]))
                               : QString());
    update();
}

// Between its neighbours, on a number as round as a pixel allows.
void BreakView::move(std::size_t i, double to) {
    const double pixel = (m_high - m_low) / std::max(1.0, plot().width());
    const double least = i == 0 ? m_low : m_breaks[i - 1];
    const double most = i + 1 == m_breaks.size() ? m_high : m_breaks[i + 1];
    to = classify::shortestBetween(to - pixel / 2, to + pixel / 2);
    if (!(to > least) || !(to < most) || to == m_breaks[i]) return;
    m_breaks[i] = to;
    choose(i);
    Q_EMIT moved(m_breaks);
}

void BreakView::mousePressEvent(QMouseEvent* event) {
    if (event->button() == Qt::LeftButton) choose(breakAt(event->position().x()));
}

void BreakView::mouseMoveEvent(QMouseEvent* event) {
    const double x = event->position().x();
    if (event->buttons() & Qt::LeftButton) {
        if (m_chosen) move(*m_chosen, numberAt(x));
        return;
    }
    setCursor(breakAt(x) ? Qt::SizeHorCursor : Qt::ArrowCursor);
}

void BreakView::mouseDoubleClickEvent(QMouseEvent* event) {
    if (!m_sample || breakAt(event->position().x())) return;
    const double pixel = (m_high - m_low) / std::max(1.0, plot().width());
    const double at = numberAt(event->position().x());
    const double number = classify::shortestBetween(at - pixel / 2, at + pixel / 2);
    if (!(number > m_low) || !(number < m_high)) return;
    const auto it = std::lower_bound(m_breaks.begin(), m_breaks.end(), number);
    const auto place = static_cast<std::size_t>(it - m_breaks.begin());
    m_breaks.insert(it, number);
    choose(place);
    Q_EMIT moved(m_breaks);
}

void BreakView::keyPressEvent(QKeyEvent* event) {
    const auto count = m_breaks.size();
    if (count == 0) return QWidget::keyPressEvent(event);
    const double pixel = (m_high - m_low) / std::max(1.0, plot().width());
    const double step = event->modifiers() & Qt::ShiftModifier ? 10 * pixel : pixel;
    switch (event->key()) {
    case Qt::Key_PageDown: return choose(m_chosen ? (*m_chosen + 1) % count : 0);
    case Qt::Key_PageUp: return choose(m_chosen ? (*m_chosen + count - 1) % count : count - 1);
    case Qt::Key_Left:
    case Qt::Key_Right:
        if (!m_chosen) return choose(0);
        return move(*m_chosen,
                    m_breaks[*m_chosen] + (event->key() == Qt::Key_Left ? -1.5 : 1.5) * step);
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (!m_chosen) return;
        m_breaks.erase(m_breaks.begin() + static_cast<std::ptrdiff_t>(*m_chosen));
        choose({});
        Q_EMIT moved(m_breaks);
        return;
    default: QWidget::keyPressEvent(event);
    }
}

void BreakView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF area = plot();
    painter.setPen(theme().line);
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    if (m_bars.empty()) {
        painter.setPen(theme().muted);
        painter.drawText(area, Qt::AlignCenter, tr("reading the numbers…"));
        return;
    }
    const auto most = double(*std::max_element(m_bars.begin(), m_bars.end()));
    const double step = area.width() / double(m_bars.size());
    // Outlined, so that the lightest class shows on the bench.
    painter.setPen(QPen(theme().line, 0.6));
    for (std::size_t i = 0; i < m_bars.size(); ++i) {
        if (m_bars[i] == 0) continue;
        const double middle = m_low + (m_high - m_low) * (double(i) + 0.5) / double(m_bars.size());
        const std::size_t of = classify::classOf(middle, m_breaks);
        const Colour c = of < m_colours.size() ? m_colours[of] : Colour{0x7A, 0x80, 0xAE};
        // By the square root, so that few can be seen beside many.
        const double height =
            std::max(1.5, (area.height() - 8) * std::sqrt(double(m_bars[i]) / most));
        painter.setBrush(QColor(c.r, c.g, c.b));
        painter.drawRect(QRectF(area.left() + step * double(i), area.bottom() - height,
                                std::max(1.0, step - 0.6), height));
    }
    for (std::size_t i = 0; i < m_breaks.size(); ++i) {
        const double x = xOf(m_breaks[i]);
        const bool isChosen = m_chosen == i;
        const QColor ink = isChosen && hasFocus() ? theme().lichen : theme().text;
        painter.setPen(QPen(ink, isChosen ? 2 : 1));
        painter.drawLine(QPointF(x, area.top() + 3), QPointF(x, area.bottom()));
        painter.setPen(Qt::NoPen);
        painter.setBrush(ink);
        painter.drawEllipse(QPointF(x, area.top() + 2), isChosen ? 4.5 : 3.5, isChosen ? 4.5 : 3.5);
    }
    painter.setPen(theme().muted);
    const QRectF below(area.left(), area.bottom() + 3, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignTop, text(m_low));
    painter.drawText(below, Qt::AlignRight | Qt::AlignTop, text(m_high));
    if (m_chosen) {
        painter.setPen(theme().text);
        painter.drawText(below, Qt::AlignHCenter | Qt::AlignTop, text(m_breaks[*m_chosen]));
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme().lichen, 1));
        painter.setBrush(Qt::NoBrush);
        painter.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3);
    }
}

}  // namespace ledge::app
