#pragma once
#include <QObject>

#include "app/canvas/latest_worker.h"
#include "app/workspace.h"
#include "core/geometry/geometry.h"

namespace ledge::app {

/// How features are picked on the map: by a click or a frame, within an area that is drawn, or
/// along a line.
enum class PickForm : std::uint8_t { Frame, Area, Line };

/// Features of the selected layer picked by a shape on the map, which is searched for beside.
class PickTool : public QObject {
    Q_OBJECT

public:
    explicit PickTool(Workspace& workspace, QObject* parent = nullptr);

    PickForm form() const { return m_form; }
    void setForm(PickForm form);
    bool drawsPath() const { return m_form != PickForm::Frame; }
    /// How what is found joins what is picked, by the keys held: with Ctrl or Shift also these,
    /// with Alt these no longer.
    static Workspace::Joining joiningFor(Qt::KeyboardModifiers how);
    /// What a shape on the map meets: an area, a line, or a point within `reach` map units.
    void pick(const Geometry& shape, double reach, Workspace::Joining joining);
    bool isSearching() const { return m_worker.isBusy(); }

Q_SIGNALS:
    void changed();

private:
    Workspace& m_workspace;
    PickForm m_form = PickForm::Frame;
    LatestWorker m_worker;
};

}  // namespace ledge::app
