#pragma once
#include <QHBoxLayout>
#include <QToolButton>
#include <QVBoxLayout>

#include "app/workspace.h"

namespace ledge::app {

/// The map's tools, floating over it: in one line, or in as many as a narrow map needs.
class MapTools : public QWidget {
    Q_OBJECT

public:
    explicit MapTools(Workspace& workspace, QWidget* map);
    /// Takes the lines that fit over the map, and the upper left corner.
    void arrange();
    QList<QToolButton*> buttons() const {
        return findChildren<QToolButton*>(Qt::FindDirectChildrenOnly);
    }

private:
    struct Row;
    void add(const Row& row);

    Workspace& m_workspace;
    QWidget* m_map;
    QList<QHBoxLayout*> m_lines;
    int m_room = -1;  ///< that the lines were made for; 0: one line
};

}  // namespace ledge::app
