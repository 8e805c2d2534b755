#pragma once
#include "app/widgets/form.h"
#include "core/query/trouble_with.h"

namespace ledge::app {

/// A field that is chosen, or a formula that is typed in its place. What cannot be asked of the
/// fields is told beneath it, and not said.
class FormulaChoice : public QComboBox {
    Q_OBJECT

public:
    /// `none`: what stands first and means nothing at all; empty where something must be said.
    FormulaChoice(const QString& name, const QString& tip, const QString& none = {},
                  QWidget* parent = nullptr);
    /// Offers the names of fields, of numbers only on request, and shows what is said now.
    void show(const std::vector<Field>& fields, bool onlyNumbers, const std::string& said);
    /// The line to stand beneath it.
    QLabel* below();

Q_SIGNALS:
    /// Another field or formula; empty for none.
    void said(const std::string& text);

private:
    void take(const QString& text);
    QString trouble(const QString& text) const;

    QString m_none;
    QString m_shown;
    std::vector<Field> m_fields;
    QLabel* m_below = nullptr;
};

/// A caption above it, and what is wrong beneath.
QWidget* captioned(const QString& caption, FormulaChoice* field);

}  // namespace ledge::app
