#include "app/benches/operation_form.h"
#include "app/widgets/rows.h"

#include "carto/qtext.h"
#include "core/base/numbers.h"

namespace ledge::app {
OperationForm::OperationForm(QWidget* parent) : QWidget(parent), m_rows(new QVBoxLayout(this)) {
    m_rows->setContentsMargins(0, 0, 0, 0);
    m_rows->setSpacing(6);
}

QWidget* OperationForm::makeField(const session::Setting& setting) {
    const QString label = qtext(setting.label);
    switch (setting.kind) {
    case session::Setting::Kind::Number: {
        auto* box = makeNumber(label, setting.low, setting.high, setting.decimals);
        connect(box, &QDoubleSpinBox::editingFinished, this, &OperationForm::edited);
        return box;
    }
    case session::Setting::Kind::Choice: {
        QStringList choices;
        for (const std::string& choice : setting.choices) choices << qtext(choice);
        auto* box = makeChoice(label, choices);
        connect(box, &QComboBox::activated, this, &OperationForm::edited);
        return box;
    }
    case session::Setting::Kind::Yes: {
        auto* box = new QCheckBox(label);
        connect(box, &QCheckBox::clicked, this, &OperationForm::edited);
        return box;
    }
    case session::Setting::Kind::Text: break;
    }
    auto* edit = makeText(label);
    connect(edit, &QLineEdit::editingFinished, this, &OperationForm::edited);
    return edit;
}

void OperationForm::rebuild() {
    clearRows(m_rows);
    m_fields.clear();
    if (!m_operation) return;
    for (const session::Setting& setting : m_operation->settings) {
        QWidget* field = makeField(setting);
        field->setObjectName("setting_" + qtext(setting.key));
        field->setToolTip(qtext(setting.help));
        m_fields[setting.key] = field;
        m_rows->addWidget(setting.kind == session::Setting::Kind::Yes
                              ? field
                              : captioned(qtext(setting.label), field));
    }
}

void OperationForm::show(const session::Operation* operation, const session::Settings& given) {
    if (operation != m_operation) {
        m_operation = operation;
        rebuild();
    }
    if (!m_operation) return;
    for (const session::Setting& setting : m_operation->settings) {
        const auto it = given.find(setting.key);
        const QString value = qtext(it == given.end() ? setting.usual : it->second);
        QWidget* field = m_fields.at(setting.key);
        if (auto* number = qobject_cast<QDoubleSpinBox*>(field))
            showNumber(number, value.toDouble());
        else if (auto* choice = qobject_cast<QComboBox*>(field))
            showChoice(choice, choice->findText(value));
        else if (auto* check = qobject_cast<QCheckBox*>(field))
            showCheck(check, value == "yes");
        else if (auto* edit = qobject_cast<QLineEdit*>(field))
            showText(edit, value);
    }
}

session::Settings OperationForm::settings() const {
    session::Settings out;
    for (const auto& [key, field] : m_fields) {
        if (const auto* number = qobject_cast<QDoubleSpinBox*>(field))
            out[key] = exactNumber(number->value());
        else if (const auto* choice = qobject_cast<QComboBox*>(field))
            out[key] = choice->currentText().toStdString();
        else if (const auto* check = qobject_cast<QCheckBox*>(field))
            out[key] = check->isChecked() ? "yes" : "no";
        else if (const auto* edit = qobject_cast<QLineEdit*>(field))
            out[key] = edit->text().trimmed().toStdString();
    }
    return out;
}

void OperationForm::setText(const std::string& key, const QString& text) {
    const auto it = m_fields.find(key);
    auto* edit = it == m_fields.end() ? nullptr : qobject_cast<QLineEdit*>(it->second);
    if (!edit) return;
    edit->setText(text);
    Q_EMIT edited();
}

}  // namespace ledge::app
