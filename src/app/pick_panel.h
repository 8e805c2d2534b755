#pragma once
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QPushButton>

#include "app/canvas/pick_tool.h"

namespace ledge::app {

/// How features are picked and what is picked, floating on the canvas.
class PickPanel : public QFrame {
    Q_OBJECT

public:
    PickPanel(Workspace& workspace, PickTool& picking, QWidget* parent);

Q_SIGNALS:
    void zoomAsked(doc::Id source);

private:
    void refresh();

    Workspace& m_workspace;
    PickTool& m_picking;
    QComboBox* m_form;
    QLabel* m_count;
    QPushButton* m_none;
    QPushButton* m_table;
    QPushButton* m_zoom;
};

}  // namespace ledge::app
