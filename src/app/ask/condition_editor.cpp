#include "app/ask/condition_editor.h"

#include <QHBoxLayout>
#include <QToolButton>
#include <algorithm>

#include "app/ask/test_row.h"
#include "app/theme.h"
#include "app/widgets/form.h"

namespace ledge::app {

ConditionEditor::ConditionEditor(ValuesOf valuesOf, bool isInner, QWidget* parent)
    : QFrame(parent), m_valuesOf(std::move(valuesOf)),
      m_join(makeChoice(
          tr("How conditions are joined"),
          {tr("All of these hold"), tr("One of these holds"), tr("None of these holds")})),
      m_rows(new QVBoxLayout) {
    setObjectName(isInner ? "innerConditions" : "conditions");
    if (isInner)
        setStyleSheet(QString("QFrame#innerConditions { border-left: 3px solid %1; }")
                          .arg(theme().line.name()));
    m_join->setObjectName("conditionJoin");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(isInner ? 10 : 0, 0, 0, 0);
    layout->setSpacing(8);
    auto* top = new QHBoxLayout;
    top->addWidget(m_join, 1);
    if (isInner) {
        auto* away = new QToolButton;
        away->setIcon(lineIcon("x", theme().muted));
        away->setToolTip(tr("Take this group away"));
        away->setAccessibleName(away->toolTip());
        connect(away, &QToolButton::clicked, this, &ConditionEditor::removeAsked);
        top->addWidget(away);
    }
    layout->addLayout(top);
    m_rows->setSpacing(8);
    layout->addLayout(m_rows);
    auto* more = makeLink(tr("+ condition"), tr("One more comparison"));
    auto* group = makeLink(tr("+ group"), tr("Several that are joined in their own way"));
    more->setObjectName("addCondition");
    group->setObjectName("addGroup");
    auto* links = new QHBoxLayout;
    links->addWidget(more);
    links->addWidget(group);
    links->addStretch(1);
    layout->addLayout(links);
    connect(more, &QPushButton::clicked, this, [this] {
        query::PlainTest test;
        if (!m_fields.empty()) test.field = m_fields.front().name;
        addTest(test);
        qobject_cast<TestRow*>(m_parts.back())->focusField();
        refreshJoin();
    });
    connect(group, &QPushButton::clicked, this, [this] {
        addGroup({query::PlainGroup::Join::Any, {}});
        refreshJoin();
    });
    connect(m_join, &QComboBox::activated, this, &ConditionEditor::edited);
    refreshJoin();
}

void ConditionEditor::setFields(const std::vector<Field>& fields) {
    if (m_fields == fields) return;
    m_fields = fields;
    const query::PlainGroup now = group();
    rebuild(now);
}

// Rows that say the same stay, so that what is being typed into does.
void ConditionEditor::show(const query::PlainGroup& wanted) {
    if (!(wanted == group())) rebuild(wanted);
}

void ConditionEditor::rebuild(const query::PlainGroup& wanted) {
    for (QWidget* part : m_parts) {
        part->hide();
        part->deleteLater();
    }
    m_parts.clear();
    m_join->setCurrentIndex(static_cast<int>(wanted.join));
    for (const auto& part : wanted.parts)
        if (const auto* test = std::get_if<query::PlainTest>(&part))
            addTest(*test);
        else
            addGroup(std::get<query::PlainGroup>(part));
    refreshJoin();
}

query::PlainGroup ConditionEditor::group() const {
    query::PlainGroup out{static_cast<query::PlainGroup::Join>(m_join->currentIndex()), {}};
    for (QWidget* part : m_parts)
        if (const auto* row = qobject_cast<TestRow*>(part))
            out.parts.emplace_back(row->test());
        else if (const auto* inner = qobject_cast<ConditionEditor*>(part))
            out.parts.emplace_back(inner->group());
    return out;
}

void ConditionEditor::addTest(const query::PlainTest& test) {
    auto* row = new TestRow(m_fields, m_valuesOf, test);
    connect(row, &TestRow::edited, this, &ConditionEditor::edited);
    connect(row, &TestRow::removeAsked, this, [this, row] { remove(row); });
    m_rows->addWidget(row);
    m_parts.push_back(row);
}

void ConditionEditor::addGroup(const query::PlainGroup& group) {
    auto* inner = new ConditionEditor(m_valuesOf, true);
    inner->setFields(m_fields);
    inner->show(group);
    connect(inner, &ConditionEditor::edited, this, &ConditionEditor::edited);
    connect(inner, &ConditionEditor::removeAsked, this, [this, inner] { remove(inner); });
    m_rows->addWidget(inner);
    m_parts.push_back(inner);
}

void ConditionEditor::remove(QWidget* row) {
    std::erase(m_parts, row);
    row->hide();
    row->deleteLater();
    refreshJoin();
    Q_EMIT edited();
}

// How one alone is joined says nothing, unless it is denied.
void ConditionEditor::refreshJoin() { m_join->setVisible(!m_parts.empty()); }

}  // namespace ledge::app
