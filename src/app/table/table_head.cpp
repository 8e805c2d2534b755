#include "app/table/table_head.h"

#include <QHelpEvent>
#include <QPainter>
#include <QToolTip>
#include <algorithm>
#include <cmath>

#include "app/table/table_model.h"
#include "app/theme.h"
#include "carto/qtext.h"
#include "core/base/numbers.h"

namespace ledge::app {
namespace {
constexpr int kHeight = 52, kPad = 4, kBars = 30;
constexpr int kNarrowest = 90, kWidest = 260;
}  // namespace

TableHead::TableHead(const TableModel& model, QWidget* parent)
    : QHeaderView(Qt::Horizontal, parent), m_model(model) {
    setObjectName("tableHead");
    setAccessibleName(tr("Columns"));
    setSectionsClickable(true);
    setSectionsMovable(true);
    setHighlightSections(false);
    setDefaultAlignment(Qt::AlignLeft | Qt::AlignTop);
    setMinimumSectionSize(48);
}

void TableHead::setOrder(std::vector<OrderBy> order) {
    if (m_other) m_other->setOrder(order);
    m_order = std::move(order);
    viewport()->update();
}

void TableHead::setFacts(std::size_t field, session::ColumnFacts facts) {
    if (m_other) m_other->setFacts(field, facts);
    m_facts[field] = std::move(facts);
    viewport()->update();
}

void TableHead::clearFacts() {
    if (m_other) m_other->clearFacts();
    m_facts.clear();
    viewport()->update();
}

const session::ColumnFacts* TableHead::facts(std::size_t field) const {
    const auto it = m_facts.find(field);
    return it == m_facts.end() ? nullptr : &it->second;
}

QSize TableHead::sizeHint() const { return {QHeaderView::sizeHint().width(), kHeight}; }

QSize TableHead::sectionSizeFromContents(int logical) const {
    QFont bold = font();
    bold.setWeight(QFont::DemiBold);
    int width = QFontMetrics(bold).horizontalAdvance(qtext(m_model.field(logical).name)) + 40;
    if (const auto* known = facts(m_model.columns()[static_cast<std::size_t>(logical)].field)) {
        const auto text =
            session::summaryText(*known, m_model.field(logical),
                                 m_model.columns()[static_cast<std::size_t>(logical)].look);
        width = std::max(width, fontMetrics().horizontalAdvance(qtext(text)) +
                                    (known->bins.empty() ? 0 : kBars + 8) + 2 * kPad);
    }
    return {std::clamp(width, kNarrowest, kWidest), kHeight};
}

void TableHead::paintSection(QPainter* painter, const QRect& rect, int logical) const {
    if (logical < 0 || logical >= m_model.columnCount()) return;
    const auto& column = m_model.columns()[static_cast<std::size_t>(logical)];
    const Field& field = m_model.field(logical);
    painter->save();
    painter->fillRect(rect, theme().paper);
    painter->fillRect(QRect(rect.right(), rect.top() + 6, 1, rect.height() - 12), theme().line);
    painter->fillRect(QRect(rect.left(), rect.bottom(), rect.width(), 1), theme().line);
    const QRect inner = rect.adjusted(kPad, 6, -kPad, -6);
    QFont bold = font();
    bold.setWeight(QFont::DemiBold);
    painter->setFont(bold);
    painter->setPen(theme().ink);
    // "2 ▾": the second field that rows go by, from the largest.
    QString sign;
    for (std::size_t i = 0; i < m_order.size(); ++i)
        if (m_order[i].field == column.field)
            sign = (m_order.size() > 1 ? QString::number(i + 1) + " " : QString()) +
                   (m_order[i].isDescending ? "\u25be" : "\u25b4");
    const int signWidth = sign.isEmpty() ? 0 : QFontMetrics(bold).horizontalAdvance(sign) + 6;
    painter->drawText(inner, Qt::AlignLeft | Qt::AlignTop,
                      QFontMetrics(bold).elidedText(qtext(field.name), Qt::ElideRight,
                                                    std::max(0, inner.width() - signWidth)));
    if (!sign.isEmpty()) {
        painter->setPen(theme().indigo);
        painter->drawText(inner, Qt::AlignRight | Qt::AlignTop, sign);
    }
    const session::ColumnFacts* known = facts(column.field);
    if (known) {
        QRect below = inner;
        below.setTop(inner.bottom() - 15);
        if (!known->bins.empty()) {
            const QRect bars(below.right() - kBars + 1, below.top(), kBars, 15);
            const auto most =
                static_cast<double>(*std::max_element(known->bins.begin(), known->bins.end()));
            const double width =
                static_cast<double>(kBars) / static_cast<double>(known->bins.size());
            painter->setPen(Qt::NoPen);
            painter->setBrush(theme().indigo);
            for (std::size_t i = 0; i < known->bins.size(); ++i) {
                if (known->bins[i] == 0) continue;
                const double high = std::max(1.0, 15 * static_cast<double>(known->bins[i]) / most);
                painter->drawRect(QRectF(bars.left() + static_cast<double>(i) * width,
                                         bars.bottom() + 1 - high, width * 0.8, high));
            }
            below.setRight(bars.left() - 6);
        }
        painter->setFont(font());
        painter->setPen(theme().muted);
        const auto text = session::summaryText(*known, field, column.look);
        painter->drawText(below, Qt::AlignLeft | Qt::AlignVCenter,
                          fontMetrics().elidedText(qtext(text), Qt::ElideRight, below.width()));
    }
    painter->restore();
}

bool TableHead::viewportEvent(QEvent* event) {
    if (event->type() != QEvent::ToolTip) return QHeaderView::viewportEvent(event);
    const auto* help = static_cast<QHelpEvent*>(event);
    const int logical = logicalIndexAt(help->pos());
    if (logical < 0 || logical >= m_model.columnCount()) return false;
    const auto& column = m_model.columns()[static_cast<std::size_t>(logical)];
    const Field& field = m_model.field(logical);
    QString text = tr("%1, %2").arg(qtext(field.name), qtext(fieldTypeName(field.type)));
    if (const auto* known = facts(column.field)) {
        const auto& s = known->summary;
        const auto number = [&](double v) {
            return qtext(session::shownText(Value(v), column.look));
        };
        const auto whole = [](std::int64_t n) {
            return qtext(formatNumber(static_cast<double>(n)));
        };
        text += "\n" + tr("%1 values, %2 missing, %3 different")
                           .arg(whole(s.count), whole(s.missing), whole(s.distinct));
        if (std::isfinite(s.mean))
            text += "\n" + tr("sum %1\nmean %2, median %3\n%4 to %5, standard deviation %6")
                               .arg(number(s.sum), number(s.mean), number(s.median), number(s.min),
                                    number(s.max), number(s.deviation));
    }
    text +=
        "\n\n" + tr("Click: order by it. Shift+click: then by it. Right click or Shift+F10: its "
                    "settings.");
    QToolTip::showText(help->globalPos(), text, this);
    return true;
}

}  // namespace ledge::app
