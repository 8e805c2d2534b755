// Files that come into the window, and go out of it.
#include <QDragEnterEvent>
#include <QFileDialog>
#include <QFileInfo>
#include <QMimeData>

#include "app/main_window.h"
#include "app/widgets/file_filters.h"
#include "carto/qtext.h"
#include "session/derive/lineage.h"
#include "session/new_layers.h"
#include "session/overview_store.h"

namespace ledge::app {

void MainWindow::openPath(const QString& path) {
    if (!path.endsWith(".ledge", Qt::CaseInsensitive)) return addFiles({path});
    if (!m_guard.mayLeave()) return;
    if (const auto done = m_session.open(path.toStdString()); !done)
        return m_workspace.say(qtext(done.error().text()), true);
    if (const std::string other = m_session.otherWindow(); !other.empty())
        m_workspace.say(tr("%1 is open in another window too (%2): whoever saves second is asked")
                            .arg(QFileInfo(path).fileName(), qtext(other)),
                        true);
}

void MainWindow::addFiles(const QStringList& paths, const std::optional<doc::Lineage>& lineage) {
    for (const QString& path : paths) {
        if (path.endsWith(".ledge", Qt::CaseInsensitive)) {
            openPath(path);
            continue;
        }
        auto made = std::make_shared<std::vector<session::NewLayers>>();
        const std::size_t hue = doc::allLayers(m_session.document().layers).size();
        m_session.jobs().start(
            tr("Reading %1").arg(QFileInfo(path).fileName()),
            [made, path, hue, lineage, snapshot = m_session.snapshot(),
             sources = m_session.sources()](const Progress& progress) -> Result<void> {
                auto layers = session::newLayersFor(path.toStdString(), *sources, hue, progress);
                if (!layers) return layers.error();
                *made = *std::move(layers);
                if (lineage)
                    for (auto& one : *made)
                        session::dressDerived(one, *lineage, *snapshot, *sources);
                return {};
            },
            [this, made, path](const Result<void>& done) {
                if (!done) return;
                const bool wasEmpty = m_session.document().layers.empty();
                auto [next, ids] = session::withNewLayers(m_session.document(), std::move(*made));
                m_workspace.add(tr("Add %1").arg(QFileInfo(path).fileName()), next);
                if (ids.empty()) return;
                m_workspace.selectLayer(ids.back());
                if (wasEmpty) Q_EMIT m_workspace.fitAsked(0);
            });
    }
}

void MainWindow::showDerived(const QString& path, const doc::Lineage& lineage) {
    auto [next, known] = session::withDerived(m_session.document(), path.toStdString(), lineage);
    if (known != 0) return m_workspace.add(tr("Run again"), next);
    addFiles({path}, lineage);
}

void MainWindow::buildOverviews(doc::Id id) {
    const auto* source = m_session.document().source(id);
    const auto* facts = source ? m_facts.facts(*source) : nullptr;
    if (!facts || !facts->wantsOverviews || !m_overviewsFor.insert(source->path).second) return;
    m_session.jobs().start(
        tr("Overviews of %1").arg(qtext(source->name)),
        [source = *source,
         sources = m_session.sources()](const Progress& progress) -> Result<void> {
            const auto pyramid = sources->raster(source);
            if (!pyramid) return pyramid.error();
            const auto done =
                session::OverviewStore().build((*pyramid)->raster(), source.path, progress);
            if (done) sources->reopen(source);
            return done;
        },
        [this, path = source->path](const Result<void>& done) {
            // Stopped or failed: tried again when the project is opened next.
            if (done) m_overviewsFor.erase(path);
        });
}

void MainWindow::openDialog() {
    const QString path =
        QFileDialog::getOpenFileName(this, tr("Open project"), {}, tr("Projects (*.ledge)"),
                                     nullptr, QFileDialog::DontUseNativeDialog);
    if (!path.isEmpty()) openPath(path);
}

void MainWindow::addDialog() {
    const QString folder =
        m_session.path().empty() ? QString() : qtext(m_session.path().parent_path().string());
    addFiles(QFileDialog::getOpenFileNames(this, tr("Add data"), folder, openFilter(), nullptr,
                                           QFileDialog::DontUseNativeDialog));
}

void MainWindow::dragEnterEvent(QDragEnterEvent* event) {
    if (event->mimeData()->hasUrls()) event->acceptProposedAction();
}

void MainWindow::dropEvent(QDropEvent* event) {
    QStringList paths;
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile()) paths << url.toLocalFile();
    addFiles(paths);
    event->acceptProposedAction();
}

}  // namespace ledge::app
