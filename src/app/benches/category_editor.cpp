#include "app/benches/category_editor.h"

#include <QMenu>

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/look_sample.h"
#include "app/widgets/rows.h"
#include "core/base/numbers.h"
#include "document/json/members.h"

namespace ledge::app {

CategoryEditor::CategoryEditor(QWidget* parent)
    : QWidget(parent), m_order(makeChoice(tr("Order of the categories"),
                                          {tr("Order…"), tr("by value"), tr("by count, most first"),
                                           tr("by what the legend says")})),
      m_others(new QCheckBox(tr("Draw all others"))), m_note(makeLabel("", "muted")) {
    setObjectName("categoryEditor");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(6);
    auto* list = new QWidget;
    m_list = new QVBoxLayout(list);
    m_list->setContentsMargins(0, 0, 0, 0);
    m_list->setSpacing(2);
    rows->addWidget(list);
    rows->addWidget(sideBySide({m_order, m_others}));
    rows->addWidget(m_note);
    m_order->setObjectName("categoryOrder");
    m_others->setObjectName("categoryOthers");
    m_note->setWordWrap(true);
    connect(m_order, &QComboBox::activated, this, &CategoryEditor::order);
    connect(m_others, &QCheckBox::clicked, this,
            [this](bool on) { Q_EMIT edited("style.shows_others", doc::word(on), {}); });
}

void CategoryEditor::change(const std::vector<doc::Category>& categories) {
    Q_EMIT edited("style.categories", doc::styleText(categories), {});
}

std::int64_t CategoryEditor::countOf(const doc::Category& category) const {
    std::int64_t out = 0;
    const auto add = [&](const std::string& value) {
        if (const auto it = m_counts.find(value); it != m_counts.end()) out += it->second;
    };
    add(category.value);
    for (const std::string& value : category.more) add(value);
    return out;
}

void CategoryEditor::order(int how) {
    showChoice(m_order, 0);
    if (how == 0) return;
    auto next = m_style.categories;
    std::stable_sort(next.begin(), next.end(), [&](const auto& one, const auto& two) {
        if (how == 2) return countOf(one) > countOf(two);
        if (how == 3) return one.label < two.label;
        const auto a = parseNumber(one.value), b = parseNumber(two.value);
        return a && b ? *a < *b : one.value < two.value;
    });
    change(next);
}

CategoryEditor::Row CategoryEditor::makeRow(std::size_t i) {
    Row row{new QWidget,
            new QCheckBox,
            new QToolButton,
            makeText(tr("Name of category %1").arg(i + 1)),
            makeLabel("", "muted"),
            new QToolButton};
    row.lamp->setAccessibleName(tr("Show category %1").arg(i + 1));
    row.lamp->setToolTip(tr("Draw it, and have it in the legend"));
    row.look->setIconSize(QSize(34, 22));
    row.look->setCheckable(true);
    row.look->setToolTip(tr("Edit this look below"));
    row.label->setObjectName(QString("categoryName%1").arg(i));
    row.count->setMinimumWidth(34);
    row.count->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
    row.more->setText("…");
    row.more->setAccessibleName(tr("More for category %1").arg(i + 1));
    row.more->setToolTip(tr("Move it, put it to another one, or leave it to the others"));
    row.more->setPopupMode(QToolButton::InstantPopup);
    row.more->setStyleSheet("QToolButton::menu-indicator { image: none; }");
    row.more->setObjectName(QString("categoryMore%1").arg(i));
    auto* menu = new QMenu(row.more);
    row.more->setMenu(menu);
    auto* layout = new QHBoxLayout(row.widget);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(4);
    for (QWidget* one : {static_cast<QWidget*>(row.lamp), static_cast<QWidget*>(row.look)})
        layout->addWidget(one);
    layout->addWidget(row.label, 1);
    layout->addWidget(row.count);
    layout->addWidget(row.more);
    const QString path = QString("style.categories.%1.").arg(i);
    connect(row.lamp, &QCheckBox::clicked, this,
            [this, path](bool on) { Q_EMIT edited(path + "shown", doc::word(on), {}); });
    connect(row.look, &QToolButton::clicked, this, [this, i](bool on) {
        Q_EMIT chosen(on && i < m_style.categories.size() ? m_style.categories[i].value : "");
    });
    connect(row.label, &QLineEdit::editingFinished, this, [this, path, i, label = row.label] {
        if (i < m_style.categories.size() &&
            label->text().toStdString() != m_style.categories[i].label)
            Q_EMIT edited(path + "label", label->text().toStdString(), {});
    });
    connect(menu, &QMenu::aboutToShow, this, [this, menu, i] { fillMenu(*menu, i); });
    return row;
}

void CategoryEditor::fillMenu(QMenu& menu, std::size_t i) {
    constexpr std::size_t kMostOffered = 40;
    menu.clear();
    const auto& all = m_style.categories;
    if (i >= all.size()) return;
    const auto moved = [this, i](std::size_t to) {
        auto next = m_style.categories;
        std::swap(next[i], next[to]);
        change(next);
    };
    menu.addAction(tr("Up"), this, [moved, i] { moved(i - 1); })->setEnabled(i > 0);
    menu.addAction(tr("Down"), this, [moved, i] { moved(i + 1); })->setEnabled(i + 1 < all.size());
    QMenu* into = menu.addMenu(tr("Put to"));
    for (std::size_t k = 0; k < all.size() && k < kMostOffered; ++k)
        if (k != i)
            into->addAction(
                qtext(all[k].label.empty() ? all[k].value : all[k].label), this, [this, i, k] {
                    auto next = m_style.categories;
                    doc::Category& target = next[k];
                    target.more.push_back(next[i].value);
                    target.more.insert(target.more.end(), next[i].more.begin(), next[i].more.end());
                    next.erase(next.begin() + static_cast<std::ptrdiff_t>(i));
                    change(next);
                });
    into->setEnabled(all.size() > 1);
    menu.addAction(tr("On their own again"), this,
                   [this, i] {
                       auto next = m_style.categories;
                       std::vector<std::string> values;
                       std::swap(values, next[i].more);
                       for (const std::string& value : values) {
                           doc::Category own = next[i];
                           own.value = own.label = value;
                           const Colour colour = categoryColour(next.size());
                           (own.look.hasFill ? own.look.fill : own.look.stroke) = colour;
                           next.push_back(own);
                       }
                       change(next);
                   })
        ->setEnabled(!all[i].more.empty());
    menu.addAction(tr("Leave to the others"), this, [this, i] {
        auto next = m_style.categories;
        next.erase(next.begin() + static_cast<std::ptrdiff_t>(i));
        Q_EMIT chosen("");
        change(next);
    });
}

void CategoryEditor::show(const doc::VectorStyle& style, GeometryType geometry,
                          const std::map<std::string, std::int64_t>& counts,
                          const std::string& chosenValue) {
    m_style = style;
    m_counts = counts;
    keepRows(m_rows, style.categories.size(), m_list, [this](std::size_t i) { return makeRow(i); });
    std::int64_t all = 0, known = 0;
    for (const auto& [value, count] : counts) all += count;
    for (std::size_t i = 0; i < style.categories.size(); ++i) {
        const doc::Category& category = style.categories[i];
        const Row& row = m_rows[i];
        const bool isChosen = category.value == chosenValue;
        row.look->setIcon(lookSample(category.look, geometry, devicePixelRatioF()));
        row.look->setChecked(isChosen);
        row.look->setAccessibleName(tr("Edit the look of %1").arg(qtext(category.value)));
        row.look->setStyleSheet(
            isChosen ? QString("border: 1px solid %1;").arg(theme().lichen.name()) : "");
        showCheck(row.lamp, category.isShown);
        showText(row.label, qtext(category.label));
        QString values = qtext(category.value);
        for (const std::string& value : category.more) values += ", " + qtext(value);
        row.label->setToolTip(tr("What the legend says of: %1").arg(values));
        const std::int64_t count = countOf(category);
        known += count;
        row.count->setText(counts.empty() ? QString()
                                          : qtext(formatNumber(double(count), {0, true})));
    }
    showCheck(m_others, style.showsOthers);
    m_note->setVisible(all != known);
    m_note->setText(tr("%1 features have other values, or none")
                        .arg(qtext(formatNumber(double(all - known), {0, true}))));
}

}  // namespace ledge::app
