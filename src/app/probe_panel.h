#pragma once
#include <QFrame>
#include <QScrollArea>
#include <QVBoxLayout>

#include "app/workspace.h"
#include "session/probe.h"

namespace ledge::app {

/// What the probe read at a spot, floating on the canvas.
class ProbePanel : public QFrame {
    Q_OBJECT

public:
    explicit ProbePanel(Workspace& workspace, QWidget* parent);
    void show(const Point& at, const std::vector<session::ProbeHit>& hits);
    /// Pixels that its content needs.
    int neededHeight() const;

Q_SIGNALS:
    /// A profile along a line feature was asked for.
    void profileAsked(const std::vector<Point>& line);
    void profileAddAsked(const std::vector<Point>& line);

private:
    QWidget* card(const session::ProbeHit& hit);
    Workspace& m_workspace;
    QScrollArea* m_scroll;
};

}  // namespace ledge::app
