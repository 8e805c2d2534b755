#pragma once
#include <QAbstractButton>
#include <QFrame>
#include <QToolButton>

#include "app/canvas/latest_worker.h"
#include "app/settling.h"
#include "app/table/column_panel.h"
#include "app/table/formula_panel.h"
#include "app/table/replace_panel.h"
#include "app/table/table_view.h"

namespace ledge::app {

/// The drawer with the attribute table of the selected layer: rows ordered, found, picked and
/// edited; what is picked here is lit on the map and the other way round.
class TableDrawer : public QFrame {
    Q_OBJECT

public:
    explicit TableDrawer(Workspace& workspace, QWidget* parent = nullptr);

    /// Opens with the table of a layer; afterwards it follows the selected layer.
    void open(doc::Id layer);
    doc::Id layer() const { return m_layer; }
    TableView* view() const { return m_view; }
    TableModel& model() { return m_model; }
    QLineEdit* find() const { return m_find; }
    bool isBusy() const {
        return m_isReading || m_facts.isBusy() || m_later.isActive() || m_formula->isBusy() ||
               m_replace->isBusy();
    }
    /// Makes the row of a feature current and brings it into view.
    void showFeature(FeatureKey key);

Q_SIGNALS:
    /// The map should show the picked features of a source.
    void zoomAsked(doc::Id source);
    /// The current row is another: the map may show where it is.
    void currentChanged(doc::Id layer, FeatureKey key);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void makeTop();
    void makeMore();
    void follow();
    void read();
    void arrange(TablePtr table, std::vector<std::uint32_t> rows, bool isOther);
    void show(const Error& error);
    void readFacts();
    void refreshTitle();
    void refreshColumns();
    void freezeColumns();
    void keepOrder();
    /// What can be done with a column, beneath its head at `x`.
    void openColumn(int column, int x);
    void orderBy(int column, bool isAlso);
    void pick(int from, int to, Qt::KeyboardModifiers how);
    void invert();
    void copy();
    void paste();
    void clearCells();
    void setCells(const std::vector<std::pair<QModelIndex, QString>>& cells);
    void openReplace();
    void openFormula(const QString& column);
    void addRow();
    void removePicked();
    void saveEdits();
    void fitButtons();
    const doc::Layer* shownLayer() const;
    const doc::VectorLayer* vector() const;
    const doc::SourceRef* source() const;

    Workspace& m_workspace;
    TableModel m_model;
    TableView* m_view;
    QLabel *m_title, *m_trouble;
    QLineEdit* m_find;
    QToolButton *m_pickedFirst, *m_pickedOnly, *m_more;
    std::vector<QAbstractButton*> m_buttons;  ///< those that make room first, last first
    FormulaPanel* m_formula;
    ReplacePanel* m_replace;
    ColumnPanel* m_column;
    doc::Id m_layer = 0;
    doc::SourceRef m_shown;  ///< what is read
    std::vector<OrderBy> m_order;
    TablePtr m_table;
    bool m_isReading = false;            ///< until what was read is shown
    std::optional<FeatureKey> m_wanted;  ///< to be shown once it is read
    Settling m_later{120};               ///< ms after the last letter
    LatestWorker m_facts;
    LatestWorker m_reader;  // last: ends before what it shows in
};

}  // namespace ledge::app
