#include "app/benches/rule_editor.h"

#include "app/benches/bench_page.h"
#include "app/theme.h"
#include "app/widgets/look_sample.h"
#include "app/widgets/rows.h"
#include "document/json/members.h"

namespace ledge::app {
RuleEditor::RuleEditor(QWidget* parent)
    : QWidget(parent), m_others(new QCheckBox(tr("Draw features that no rule holds for"))) {
    setObjectName("ruleEditor");
    auto* rows = new QVBoxLayout(this);
    rows->setContentsMargins(0, 0, 0, 0);
    rows->setSpacing(8);
    auto* list = new QWidget;
    m_list = new QVBoxLayout(list);
    m_list->setContentsMargins(0, 0, 0, 0);
    m_list->setSpacing(10);
    rows->addWidget(list);
    auto* add = makeButton(tr("Add rule"), tr("One more, below the others"));
    add->setObjectName("addRule");
    rows->addWidget(add);
    rows->addWidget(m_others);
    m_others->setObjectName("showsOthers");
    connect(add, &QPushButton::clicked, this, [this] {
        auto next = m_style.rules;
        doc::StyleRule rule;
        rule.look = m_style.look;
        const Colour colour = categoryColour(next.size());
        (rule.look.hasFill ? rule.look.fill : rule.look.stroke) = colour;
        next.push_back(rule);
        change(next);
        Q_EMIT chosen(static_cast<int>(next.size()) - 1);
    });
    connect(m_others, &QCheckBox::clicked, this,
            [this](bool on) { Q_EMIT edited("style.shows_others", doc::word(on), {}); });
}

void RuleEditor::change(const std::vector<doc::StyleRule>& rules) {
    Q_EMIT edited("style.rules", doc::styleText(rules), {});
}

RuleEditor::Row RuleEditor::makeRow(std::size_t i) {
    const auto scaleBox = [](const QString& name) {
        auto* box = makeNumber(name, 0, 1e9, 0, {}, 5000);
        box->setPrefix("1 : ");
        box->setSpecialValueText(tr("no limit"));
        return box;
    };
    Row row{new QWidget,
            new QCheckBox,
            new QToolButton,
            new FormulaText(query::Wanted::Condition, tr("What rule %1 holds for").arg(i + 1),
                            tr("sheep > 20 AND kind = 'croft'")),
            makeText(tr("Name of rule %1").arg(i + 1), tr("as the legend says it")),
            scaleBox(tr("Smallest scale of rule %1").arg(i + 1)),
            scaleBox(tr("Largest scale of rule %1").arg(i + 1))};
    row.lamp->setAccessibleName(tr("Show rule %1").arg(i + 1));
    row.lamp->setToolTip(tr("Draw what this rule holds for"));
    row.look->setAccessibleName(tr("Edit the look of rule %1").arg(i + 1));
    row.look->setToolTip(tr("Edit this look below"));
    row.look->setIconSize(QSize(34, 22));
    row.look->setCheckable(true);
    row.keep->setObjectName(QString("ruleKeep%1").arg(i));
    row.keep->setToolTip(tr("A condition; empty: all that no rule above holds for"));
    auto* up = makeButton(tr("Up"), tr("Asked before the one above"));
    auto* away = makeButton(tr("Remove"), tr("Without this rule"));
    up->setEnabled(i > 0);
    auto* first = new QHBoxLayout;
    for (QWidget* one : {static_cast<QWidget*>(row.lamp), static_cast<QWidget*>(row.look)})
        first->addWidget(one);
    first->addWidget(row.keep, 1);
    auto* all = new QVBoxLayout(row.widget);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(4);
    all->addLayout(first);
    all->addWidget(row.keep->below());
    all->addWidget(row.label);
    all->addWidget(sideBySide({captioned(tr("Smallest scale"), row.widest),
                               captioned(tr("Largest scale"), row.closest)}));
    all->addWidget(sideBySide({up, away}));
    const QString path = QString("style.rules.%1.").arg(i);
    connect(row.keep, &FormulaText::said, this,
            [this, path](const std::string& said) { Q_EMIT edited(path + "keep", said, {}); });
    connect(row.label, &QLineEdit::editingFinished, this, [this, path, i, edit = row.label] {
        if (i < m_style.rules.size() && edit->text().toStdString() != m_style.rules[i].label)
            Q_EMIT edited(path + "label", edit->text().toStdString(), {});
    });
    connect(row.lamp, &QCheckBox::clicked, this,
            [this, path](bool on) { Q_EMIT edited(path + "shown", doc::word(on), {}); });
    connect(row.look, &QToolButton::clicked, this,
            [this, i](bool on) { Q_EMIT chosen(on ? static_cast<int>(i) : -1); });
    for (const auto& [box, member] :
         {std::pair{row.widest, "widest_scale"}, {row.closest, "closest_scale"}})
        connect(box, &QDoubleSpinBox::valueChanged, this, [this, path, member = member](double v) {
            Q_EMIT edited(path + member, exactNumber(v), path + member);
        });
    connect(up, &QPushButton::clicked, this, [this, i] {
        auto next = m_style.rules;
        if (i > 0 && i < next.size()) std::swap(next[i], next[i - 1]);
        change(next);
    });
    connect(away, &QPushButton::clicked, this, [this, i] {
        auto next = m_style.rules;
        if (i < next.size()) next.erase(next.begin() + static_cast<std::ptrdiff_t>(i));
        Q_EMIT chosen(-1);
        change(next);
    });
    return row;
}

void RuleEditor::show(const doc::VectorStyle& style, GeometryType geometry,
                      const std::vector<Field>& fields, std::optional<std::size_t> chosenRule) {
    m_style = style;
    keepRows(m_rows, style.rules.size(), m_list, [this](std::size_t i) { return makeRow(i); });
    showCheck(m_others, style.showsOthers);
    for (std::size_t i = 0; i < style.rules.size(); ++i) {
        const Row& row = m_rows[i];
        const doc::StyleRule& rule = style.rules[i];
        showCheck(row.lamp, rule.isShown);
        row.look->setIcon(lookSample(rule.look, geometry, devicePixelRatioF()));
        row.look->setChecked(chosenRule == i);
        row.look->setStyleSheet(
            chosenRule == i ? QString("border: 1px solid %1;").arg(theme().lichen.name()) : "");
        row.keep->show(fields, rule.keep);
        showText(row.label, qtext(rule.label));
        showNumber(row.widest, rule.widestScale);
        showNumber(row.closest, rule.closestScale);
    }
}

}  // namespace ledge::app
