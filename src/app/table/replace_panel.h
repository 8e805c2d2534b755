#pragma once
#include <QFrame>

#include "app/canvas/latest_worker.h"
#include "app/settling.h"
#include "app/widgets/form.h"
#include "app/workspace.h"
#include "session/table_replacing.h"

namespace ledge::app {

/// Find and replace in a table: in one column or all, in the rows shown or the picked ones; the
/// button says how many cells it will change.
class ReplacePanel : public QFrame {
    Q_OBJECT

public:
    explicit ReplacePanel(Workspace& workspace, QWidget* parent = nullptr);
    void open(doc::Id source, TablePtr table, std::vector<std::uint32_t> rows,
              const QString& find = {});
    /// The same after an edit or another order of rows.
    void setTable(TablePtr table, std::vector<std::uint32_t> rows);
    bool isBusy() const { return m_later.isActive() || m_worker.isBusy(); }

private:
    void countLater();
    void count();
    void replace();
    void replaceCounted();

    Workspace& m_workspace;
    QLineEdit *m_find, *m_with;
    QComboBox* m_field;
    QCheckBox *m_whole, *m_case, *m_picked;
    QPushButton* m_replace;
    QLabel* m_refused;
    doc::Id m_source = 0;
    TablePtr m_table;
    std::vector<std::uint32_t> m_rows;
    session::Replaced m_result;
    int m_turn = 0;          ///< of what is asked: an older count is none of it
    bool m_isAsked = false;  ///< as soon as it is counted
    Settling m_later{150};   ///< ms after the last letter
    LatestWorker m_worker;   // last: ends before what it shows in
};

}  // namespace ledge::app
