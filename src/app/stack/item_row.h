#pragma once
#include "app/stack/row_frame.h"
#include "app/workspace.h"

namespace ledge::app {

/// A thing on the sheet, in the stack.
class ItemRow : public RowFrame {
    Q_OBJECT

public:
    ItemRow(Workspace& workspace, doc::Id item, QWidget* parent);
    doc::Id item() const { return m_item; }
    void refresh();

protected:
    void mousePressEvent(QMouseEvent*) override;

private:
    Workspace& m_workspace;
    doc::Id m_item;
    QToolButton* m_lamp;
    QLabel *m_name, *m_kind;
};

}  // namespace ledge::app
