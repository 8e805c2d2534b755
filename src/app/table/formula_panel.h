#pragma once
#include <QFrame>

#include "app/canvas/latest_worker.h"
#include "app/widgets/form.h"
#include "app/widgets/formula_edit.h"
#include "app/workspace.h"

namespace ledge::app {

/// A column computed by a formula: what it is called, the formula, what comes out in the first
/// rows, and how many rows it will fill.
class FormulaPanel : public QFrame {
    Q_OBJECT

public:
    explicit FormulaPanel(Workspace& workspace, QWidget* parent = nullptr);
    /// The table whose column is computed; the panel opens.
    void open(doc::Id source, TablePtr table, const QString& column = {});
    /// The same after an edit.
    void setTable(TablePtr table);
    FormulaEdit* formula() const { return m_formula; }
    bool isBusy() const { return m_worker.isBusy(); }

Q_SIGNALS:
    void closed();

private:
    void preview();
    void show(const Result<std::vector<Value>>& values, query::Place place);
    void refreshButtons();
    void fill(bool isOfPicked);

    Workspace& m_workspace;
    QComboBox* m_name;
    FormulaEdit* m_formula;
    QLabel* m_result;
    QCheckBox* m_live;
    QPushButton *m_fillPicked, *m_fillAll;
    doc::Id m_source = 0;
    TablePtr m_table;
    bool m_isRight = false;
    LatestWorker m_worker;  // last: ends before what it shows in
};

}  // namespace ledge::app
