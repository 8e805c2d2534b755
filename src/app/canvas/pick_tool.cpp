#include "app/canvas/pick_tool.h"

#include "app/benches/bench_page.h"
#include "session/picking.h"

namespace ledge::app {

PickTool::PickTool(Workspace& workspace, QObject* parent)
    : QObject(parent), m_workspace(workspace) {}

void PickTool::setForm(PickForm form) {
    if (m_form == form) return;
    m_form = form;
    Q_EMIT changed();
}

Workspace::Joining PickTool::joiningFor(Qt::KeyboardModifiers how) {
    if ((how & Qt::AltModifier) != 0) return Workspace::Joining::Without;
    return (how & (Qt::ControlModifier | Qt::ShiftModifier)) != 0 ? Workspace::Joining::Also
                                                                  : Workspace::Joining::Instead;
}

void PickTool::pick(const Geometry& shape, double reach, Workspace::Joining joining) {
    const doc::Layer* layer = m_workspace.layer();
    const doc::SourceRef* source = m_workspace.source();
    if (!layer || !source || !layer->as<doc::VectorLayer>())
        return m_workspace.say(tr("Features are picked of the selected layer: select one of them"),
                               true);
    m_worker.start([this, shape, reach, joining, id = source->id,
                    from = doc::readBy(*layer, *source), crs = m_workspace.session().mapCrs(),
                    sources = m_workspace.session().sources()](const std::stop_token& stop) {
        auto keys = session::featuresAt(from, *sources, crs, shape, reach, {stop, {}});
        if (stop.stop_requested()) return;
        QMetaObject::invokeMethod(this, [this, id, joining, keys = std::move(keys)] {
            if (!keys) return m_workspace.say(qtext(keys.error().text()), true);
            m_workspace.pick(id, *keys, joining);
            m_workspace.say(tr("%1 picked").arg(m_workspace.picked(id).size()));
        });
    });
}

}  // namespace ledge::app
