#pragma once
#include "app/widgets/form.h"
#include "core/query/trouble_with.h"

namespace ledge::app {

/// A condition or a formula that is typed. What cannot be asked of the fields is told beneath it,
/// and not said.
class FormulaText : public QLineEdit {
    Q_OBJECT

public:
    FormulaText(query::Wanted wanted, const QString& name, const QString& placeholder,
                QWidget* parent = nullptr);
    /// What is said now of these fields; without fields nothing is looked into.
    void show(const std::vector<Field>& fields, const std::string& text);
    /// The line to stand beneath it.
    QLabel* below();

Q_SIGNALS:
    /// Another formula; empty for none.
    void said(const std::string& text);

private:
    void take();
    QString trouble(const QString& text) const;

    query::Wanted m_wanted;
    std::vector<Field> m_fields;
    QString m_shown;
    QLabel* m_below = nullptr;
};

/// A caption above it, and what is wrong beneath.
QWidget* captioned(const QString& caption, FormulaText* field);

}  // namespace ledge::app
