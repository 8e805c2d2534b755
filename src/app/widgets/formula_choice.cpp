#include "app/widgets/formula_choice.h"

#include <QLineEdit>
#include <QSignalBlocker>

namespace ledge::app {

FormulaChoice::FormulaChoice(const QString& name, const QString& tip, const QString& none,
                             QWidget* parent)
    : QComboBox(parent), m_none(none) {
    setAccessibleName(name);
    setToolTip(tip);
    setEditable(true);
    setInsertPolicy(QComboBox::NoInsert);
    setFocusPolicy(Qt::StrongFocus);
    setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(6);
    connect(this, &QComboBox::textActivated, this, &FormulaChoice::take);
    // What is typed and is no item is not activated.
    connect(lineEdit(), &QLineEdit::editingFinished, this, [this] { take(currentText()); });
}

void FormulaChoice::take(const QString& text) {
    const QString meant = !m_none.isEmpty() && text == m_none ? QString() : text.trimmed();
    if (meant == m_shown || (meant.isEmpty() && m_none.isEmpty())) return;
    m_shown = meant;
    Q_EMIT said(meant.toStdString());
}

void FormulaChoice::show(const std::vector<Field>& fields, bool onlyNumbers,
                         const std::string& text) {
    // What is being typed is not taken from under the hands.
    if (lineEdit()->hasFocus() && lineEdit()->isModified()) return;
    const QSignalBlocker quiet(this);
    clear();
    if (!m_none.isEmpty()) addItem(m_none);
    for (const Field& field : fields)
        if (!onlyNumbers || field.type == FieldType::Integer || field.type == FieldType::Real)
            addItem(QString::fromStdString(field.name));
    m_shown = QString::fromStdString(text);
    const int at = text.empty() ? (m_none.isEmpty() ? -1 : 0) : findText(m_shown);
    setCurrentIndex(at);
    if (at < 0) setEditText(m_shown);
    lineEdit()->setModified(false);
}

}  // namespace ledge::app
