#include "app/widgets/histogram_view.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>

#include "app/theme.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
QString text(double value) {
    const double size = std::abs(value);
    return QString::fromStdString(formatNumber(value, {size >= 100 ? 0 : size >= 1 ? 1 : 3, true}));
}
}  // namespace

HistogramView::HistogramView(QWidget* parent) : QWidget(parent) {
    setObjectName("histogram");
    setAccessibleName(tr("Histogram"));
    setFixedHeight(84);
}

void HistogramView::setHistogram(Histogram histogram) {
    m_histogram = std::move(histogram);
    setAccessibleDescription(
        tr("Values from %1 to %2").arg(text(m_histogram.low), text(m_histogram.high)));
    update();
}

QRectF HistogramView::plot() const { return QRectF(rect()).adjusted(1, 4, -1, -18); }

QString HistogramView::barText(double x) const {
    const QRectF area = plot();
    const auto count = m_histogram.counts.size();
    if (count == 0 || x < area.left() || x >= area.right()) return {};
    const auto bar = std::min(
        count - 1, static_cast<std::size_t>((x - area.left()) / area.width() * double(count)));
    const double step = (m_histogram.high - m_histogram.low) / double(count);
    return tr("%1 to %2: %3 cells")
        .arg(text(m_histogram.low + step * double(bar)),
             text(m_histogram.low + step * double(bar + 1)),
             QString::fromStdString(formatNumber(double(m_histogram.counts[bar]), {0, true})));
}

bool HistogramView::event(QEvent* event) {
    if (event->type() == QEvent::ToolTip) {
        auto* help = static_cast<QHelpEvent*>(event);
        QToolTip::showText(help->globalPos(), barText(help->pos().x()), this);
        return true;
    }
    return QWidget::event(event);
}

void HistogramView::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    const QRectF area = plot();
    const auto& counts = m_histogram.counts;
    painter.setPen(theme().line);
    painter.drawLine(area.bottomLeft(), area.bottomRight());
    if (counts.empty()) return;
    const auto most = double(*std::max_element(counts.begin(), counts.end()));
    const double step = area.width() / double(counts.size());
    painter.setPen(Qt::NoPen);
    painter.setBrush(theme().indigo);
    for (std::size_t i = 0; i < counts.size(); ++i) {
        if (counts[i] == 0 || most <= 0) continue;
        // What is there at all shows.
        const double height = std::max(1.0, area.height() * double(counts[i]) / most);
        painter.drawRect(QRectF(area.left() + step * double(i), area.bottom() - height,
                                std::max(1.0, step - 1), height));
    }
    painter.setPen(theme().muted);
    const QRectF below(area.left(), area.bottom() + 2, area.width(), 16);
    painter.drawText(below, Qt::AlignLeft | Qt::AlignTop, text(m_histogram.low));
    painter.drawText(below, Qt::AlignRight | Qt::AlignTop, text(m_histogram.high));
}

}  // namespace ledge::app
