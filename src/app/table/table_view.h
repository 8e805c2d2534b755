#pragma once
#include <QTableView>

#include "app/table/table_head.h"
#include "app/table/table_model.h"

namespace ledge::app {

/// The grid of the attribute table. A click on the number of a row picks it (Ctrl adds, Shift a
/// run), Space picks the row of the current cell; cells are edited, copied and pasted in blocks.
class TableView : public QTableView {
    Q_OBJECT

public:
    explicit TableView(TableModel& model, QWidget* parent = nullptr);
    TableHead* head() const { return m_head; }
    /// The first so many columns stay while the others are scrolled sideways.
    void setFrozen(int columns);
    int frozen() const { return m_frozenCount; }
    /// The grid of those that stay, over this one; hidden without any.
    QTableView* frozenView() const { return m_frozen; }
    TableHead* frozenHead() const { return m_frozenHead; }
    void scrollTo(const QModelIndex& index, ScrollHint hint = EnsureVisible) override;

Q_SIGNALS:
    /// Rows whose numbers were clicked: instead of those picked, or added and taken away in turn.
    void picked(int from, int to, Qt::KeyboardModifiers how);
    void copyAsked();
    void pasteAsked();
    void clearAsked();
    void zoomAsked();
    void findAsked();
    /// What can be done with a column is asked for by keys, as the right button on its head does.
    void columnAsked(int column);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void updateGeometries() override;

private:
    void placeFrozen();

    TableHead* m_head;
    QTableView* m_frozen;
    TableHead* m_frozenHead;
    int m_frozenCount = 0;
    int m_anchor = 0;
};

}  // namespace ledge::app
