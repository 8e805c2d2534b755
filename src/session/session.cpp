#include "session/session.h"

#include "document/map_crs.h"
#include "session/aside.h"

namespace ledge::session {
namespace {
constexpr int kAutosaveMs = 700;  // what was done a second ago survives
}

Session::Session(std::filesystem::path recoveryFolder, QObject* parent)
    : QObject(parent), m_history(doc::Document{}), m_sources(std::make_shared<SourceCache>()),
      m_recovery(std::move(recoveryFolder)) {
    m_told = snapshot();
    m_sources->setInterfaceThread(std::this_thread::get_id());
    m_sources->keepShapesIn(ShapeStore());
    m_writer.setMaxThreadCount(1);
    m_autosave.setSingleShot(true);
    m_autosave.setInterval(kAutosaveMs);
    connect(&m_autosave, &QTimer::timeout, this, &Session::autosave);
}

void Session::apply(doc::Document next, const QString& label, const QString& mergeKey) {
    if (!m_history.push(std::move(next), label.toStdString(), mergeKey.toStdString())) return;
    if (!m_autosave.isActive()) m_autosave.start();
    tellChange();
}

void Session::tellChange() {
    const doc::DocumentPtr before = std::exchange(m_told, snapshot());
    Q_EMIT changed(doc::changeBetween(*before, *m_told));
}

void Session::undo() {
    if (!m_history.canUndo()) return;
    m_history.undo();
    if (!m_autosave.isActive()) m_autosave.start();
    tellChange();
}

void Session::redo() {
    if (!m_history.canRedo()) return;
    m_history.redo();
    if (!m_autosave.isActive()) m_autosave.start();
    tellChange();
}

void Session::moveTo(std::filesystem::path path) {
    m_path = std::move(path);
    m_mark.put(m_path);
}

void Session::restart(doc::Document document, std::filesystem::path path, ProjectStamp stamp) {
    m_autosave.stop();
    forgetAutosaved();
    m_view = document.lastView;
    m_history = History(std::move(document));
    m_stamp = std::move(stamp);
    moveTo(std::move(path));
    m_stale.forget();
    Q_EMIT replaced();
    tellChange();
}

Result<void> Session::open(const std::filesystem::path& path) {
    ProjectStamp stamp;
    auto document = aside([&] { return loadProject(path, &stamp); });
    if (!document) return document.error();
    restart(*std::move(document), std::filesystem::absolute(path), stamp);
    return {};
}

Result<void> Session::takeTheirs() {
    ProjectStamp stamp;
    auto document = aside([&] { return loadProject(m_path, &stamp); });
    if (!document) return document.error();
    m_stamp = stamp;
    m_history.push(*std::move(document), "Take what is on the disk", "");
    m_history.markSaved();
    m_autosave.stop();
    forgetAutosaved();
    tellChange();
    Q_EMIT saved();
    return {};
}

Result<void> Session::save(const std::filesystem::path& path, Theirs theirs) {
    doc::Document document = this->document();
    document.lastView = m_view;
    if (document.name == "Untitled") document.name = path.stem().string();
    const auto place = std::filesystem::absolute(path);
    ProjectStamp stamp = m_stamp;
    const auto written = aside([&] {
        // Under another name whoever chose it was asked.
        if (place != m_path || theirs == Theirs::WrittenOver) stamp = projectStamp(place);
        return saveProject(document, place, &stamp);
    });
    if (!written) return written;
    m_stamp = stamp;
    if (document.name != this->document().name)
        m_history.push(std::move(document), "Name project", "");
    if (place != m_path) moveTo(place);
    m_history.markSaved();
    m_autosave.stop();
    forgetAutosaved();
    tellChange();
    Q_EMIT saved();
    return {};
}

void Session::clear() { restart({}, {}, {}); }

Result<void> Session::recover(const RecoveryStore::Found& found) {
    auto document = aside([&] { return RecoveryStore::read(found); });
    if (!document) return document.error();
    // The recovered state is a step after an empty one, so it counts as not saved.
    m_view = document->lastView;
    m_history = History(doc::Document{});
    m_history.push(*std::move(document), "Recover", "");
    // What was saved since is not written over without a question.
    m_stamp = found.base;
    moveTo(found.project);
    m_stale.forget();
    Q_EMIT replaced();
    tellChange();
    autosave();
    m_writer.start([this, found] { m_recovery.remove(found); });
    return {};
}

void Session::autosave() {
    if (!isModified()) return forgetAutosaved();
    // One copy at a time: a large project is written for longer than edits take.
    if (m_writer.activeThreadCount() > 0) return m_autosave.start();
    doc::Document document = this->document();
    document.lastView = m_view;
    // A failure here must not disturb the work; the next change tries again.
    m_writer.start([this, document = std::move(document), project = m_path, base = m_stamp] {
        (void)m_recovery.keep(document, project, base).has_value();
    });
}

void Session::forgetAutosaved() {
    m_writer.start([this] { m_recovery.forget(); });
}

crs::CrsPtr Session::mapCrs() const { return doc::mapCrs(document()); }

}  // namespace ledge::session
