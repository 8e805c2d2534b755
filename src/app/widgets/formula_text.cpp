#include "app/widgets/formula_text.h"

namespace ledge::app {

FormulaText::FormulaText(query::Wanted wanted, const QString& name, const QString& placeholder,
                         QWidget* parent)
    : QLineEdit(parent), m_wanted(wanted) {
    setAccessibleName(name);
    setToolTip(name);
    setPlaceholderText(placeholder);
    connect(this, &QLineEdit::editingFinished, this, &FormulaText::take);
}

QLabel* FormulaText::below() {
    if (!m_below) m_below = wrongBelow(this);
    return m_below;
}

QString FormulaText::trouble(const QString& text) const {
    if (m_fields.empty()) return {};
    return QString::fromStdString(query::troubleWith(text.toStdString(), m_fields, m_wanted));
}

void FormulaText::take() {
    const QString meant = text().trimmed();
    const QString why = m_below ? trouble(meant) : QString();
    if (m_below) showWrong(this, m_below, why);
    if (!why.isEmpty() || meant == m_shown) return;
    m_shown = meant;
    Q_EMIT said(meant.toStdString());
}

void FormulaText::show(const std::vector<Field>& fields, const std::string& text) {
    m_fields = fields;
    // What is being typed is not taken from under the hands.
    if (hasFocus() && isModified()) return;
    m_shown = QString::fromStdString(text);
    const QSignalBlocker quiet(this);
    if (this->text() != m_shown) {
        setText(m_shown);
        if (!hasFocus()) setCursorPosition(0);  // long texts show their beginning
    }
    setModified(false);
    // What a file says may be wrong too, or was right of other fields.
    if (m_below) showWrong(this, m_below, trouble(m_shown));
}

QWidget* captioned(const QString& caption, FormulaText* field) {
    QWidget* out = captioned(caption, static_cast<QWidget*>(field));
    out->layout()->addWidget(field->below());
    return out;
}

}  // namespace ledge::app
