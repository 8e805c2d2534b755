#pragma once
#include <QComboBox>
#include <QFrame>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>

#include "app/canvas/draw_tool.h"

namespace ledge::app {

/// What is drawn and where it goes, floating on the canvas: the mode, the layer, the next point
/// typed, and what can be done with what is picked.
class DrawPanel : public QFrame {
    Q_OBJECT

public:
    DrawPanel(Workspace& workspace, DrawTool& drawing, MeasureOverlay& path, QWidget* parent);

Q_SIGNALS:
    /// A file with an empty layer was written, which is to be added.
    void layerMade(const QString& path);

protected:
    /// What is typed here is no business of the map beneath.
    void keyPressEvent(QKeyEvent* event) override { event->accept(); }

private:
    void refresh();
    void takeTyped();
    void makeLayer();
    QString hint() const;

    Workspace& m_workspace;
    DrawTool& m_drawing;
    MeasureOverlay& m_path;
    QComboBox* m_mode;
    QLabel* m_into;
    QLabel* m_hint;
    QLineEdit* m_typed;
    QLabel* m_wrong;
    QLabel* m_figures;
    QPushButton* m_done;
    QPushButton* m_back;
    QPushButton* m_new;
    QWidget* m_pathPart;
    QWidget* m_vertexPart;
    QPushButton* m_less;
    QPushButton* m_lessPart;
    QPushButton* m_merge;
    QPushButton* m_apart;
    QWidget* m_pickedPart;
    GeometryType m_seenType = GeometryType::None;
    doc::Id m_seenLayer = 0;
};

}  // namespace ledge::app
