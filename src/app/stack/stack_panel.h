#pragma once
#include <QPointer>
#include <QScrollArea>
#include <map>

#include "app/stack/item_row.h"
#include "app/stack/layer_strip.h"
#include "app/stack/stack_rows.h"

namespace ledge::app {

/// The drawing order, top first. On a sheet it begins with the items on the sheet. Rows have
/// widgets only where they are in sight, so that a hundred thousand layers cost what a dozen do.
class StackPanel : public QWidget {
    Q_OBJECT

public:
    StackPanel(Workspace& workspace, session::FactBook& facts, QWidget* parent = nullptr);
    /// The strip of a layer in sight or near; null for those far away.
    Strip* strip(doc::Id layer) const;
    ItemRow* itemRow(doc::Id item) const;
    /// Scrolls to what is selected and gives it the focus.
    void focusSelected();

Q_SIGNALS:
    void addAsked();

protected:
    bool eventFilter(QObject*, QEvent*) override;

private:
    void refresh();
    void refreshRows();
    void fill();
    void place(RowFrame* frame, const StackRow& row);
    Strip* stripFor(doc::Id layer);
    void retire(Strip* strip);
    /// The row of what is selected; m_rows.size() when it has none.
    std::size_t currentRow() const;
    RowFrame* frameOf(const StackRow& row) const;
    void markSelection();
    void showRow(std::size_t row);
    void choose(const StackRow& row, bool extends);
    void onKey(RowFrame* frame, QKeyEvent* event);
    void step(RowFrame* from, int by, bool extends);
    void onPress(doc::Id layer, Qt::KeyboardModifiers keys);
    void onDrag(doc::Id layer, int globalY, bool isEnd);
    void selectThrough(doc::Id layer);
    void moveSelected(int by);
    void foldOrLeave(doc::Id layer, bool folds);
    void openMenu(Strip* strip, const QPoint& at);

    Workspace& m_workspace;
    session::FactBook& m_facts;
    session::PhotoBook m_photos;
    QScrollArea* m_scroll;
    QWidget* m_list;
    QFrame* m_dropLine;
    QLabel* m_headings[2];
    RowHeights m_heights;
    std::vector<StackRow> m_rows;
    std::map<doc::Id, Strip*> m_strips;
    std::map<doc::Id, ItemRow*> m_items;
    std::vector<Strip*> m_spare;   ///< hidden, to be reused
    QPointer<RowFrame> m_reached;  ///< by Tab
    doc::Id m_anchor = 0;          ///< where a range of selected strips begins
    bool m_isFilling = false;
};

}  // namespace ledge::app
