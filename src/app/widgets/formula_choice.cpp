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
    if (meant.isEmpty() && m_none.isEmpty()) return;
    const QString why = m_below ? trouble(meant) : QString();
    if (m_below) showWrong(lineEdit(), m_below, why);
    if (!why.isEmpty() || meant == m_shown) return;
    m_shown = meant;
    Q_EMIT said(meant.toStdString());
}

QLabel* FormulaChoice::below() {
    if (!m_below) {
        m_below = wrongBelow(lineEdit());
        m_below->setObjectName(objectName() + "Wrong");
    }
    return m_below;
}

// A field may be called in words that are no formula.
QString FormulaChoice::trouble(const QString& text) const {
    if (m_fields.empty() || findText(text) >= 0) return {};
    return QString::fromStdString(
        query::troubleWith(text.toStdString(), m_fields, query::Wanted::Anything));
}

void FormulaChoice::show(const std::vector<Field>& fields, bool onlyNumbers,
                         const std::string& text) {
    m_fields = fields;
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
    // What a file says may be wrong too, or was right of other fields.
    if (m_below) showWrong(lineEdit(), m_below, trouble(m_shown));
}

QWidget* captioned(const QString& caption, FormulaChoice* field) {
    QWidget* out = captioned(caption, static_cast<QWidget*>(field));
    out->layout()->addWidget(field->below());
    return out;
}

}  // namespace ledge::app
