#pragma once
#include <QComboBox>

#include "core/feature/value.h"

namespace ledge::app {

/// A field that is chosen, or a formula that is typed in its place.
class FormulaChoice : public QComboBox {
    Q_OBJECT

public:
    /// `none`: what stands first and means nothing at all; empty where something must be said.
    FormulaChoice(const QString& name, const QString& tip, const QString& none = {},
                  QWidget* parent = nullptr);
    /// Offers the names of fields, of numbers only on request, and shows what is said now.
    void show(const std::vector<Field>& fields, bool onlyNumbers, const std::string& said);

Q_SIGNALS:
    /// Another field or formula; empty for none.
    void said(const std::string& text);

private:
    void take(const QString& text);

    QString m_none;
    QString m_shown;
};

}  // namespace ledge::app
