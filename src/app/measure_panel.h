#pragma once
#include <QComboBox>
#include <QFrame>
#include <QGridLayout>
#include <QLabel>
#include <QPushButton>

#include "app/canvas/measure_overlay.h"
#include "app/workspace.h"

namespace ledge::app {

/// What is being measured, floating on the canvas: on the ellipsoid and in the map's plane side by
/// side, with the difference.
class MeasurePanel : public QFrame {
    Q_OBJECT

public:
    MeasurePanel(Workspace& workspace, MeasureOverlay& measuring, QWidget* parent);
    /// The figures as text, a line each, for the clipboard.
    QString asText() const;

Q_SIGNALS:
    /// The measurement was kept in a file that is to become a layer.
    void kept(const QString& path);

private:
    struct Row {
        QString name, ellipsoid, plane, difference;
    };
    std::vector<Row> rows() const;
    void refresh();
    void keep();

    Workspace& m_workspace;
    MeasureOverlay& m_measuring;
    QGridLayout* m_grid;
    QWidget* m_table;
    QLabel* m_hint;
    QComboBox* m_kind;
    QComboBox* m_unit;
    QPushButton* m_copy;
    QPushButton* m_keep;
    QPushButton* m_light;
};

}  // namespace ledge::app
