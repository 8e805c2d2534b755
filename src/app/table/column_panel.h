#pragma once
#include <QFrame>

#include "app/widgets/form.h"
#include "app/workspace.h"
#include "session/column_facts.h"

namespace ledge::app {

/// How a column is shown, in a panel at its head: name, decimals, percent, thousands, unit, form of
/// dates; order, hiding, computing, removing it.
class ColumnPanel : public QFrame {
    Q_OBJECT

public:
    explicit ColumnPanel(Workspace& workspace, QWidget* parent = nullptr);
    /// `others`: what the other columns of its table are called.
    void open(const doc::Layer& layer, const Field& field, const QStringList& others,
              const doc::ColumnLook& look, const QPoint& at);

Q_SIGNALS:
    void orderAsked(const QString& field, bool isDescending);
    void computeAsked(const QString& field);

private:
    void setLook(const char* what, const std::string& value);
    bool act(const char* edit, doc::EditWords words);
    void rename();

    Workspace& m_workspace;
    QLineEdit* m_name;
    QLabel* m_refused;
    QDoubleSpinBox* m_decimals;
    QCheckBox *m_percent, *m_thousands, *m_frozen;
    QLineEdit* m_unit;
    QWidget* m_numberPart;
    QComboBox* m_dates;
    QWidget* m_datePart;
    doc::Id m_layer = 0, m_source = 0;
    QString m_field;
    QStringList m_others;
};

}  // namespace ledge::app
