#pragma once
#include <QObject>
#include <QThreadPool>
#include <QTimer>

#include "document/change.h"
#include "session/history.h"
#include "session/job_runner.h"
#include "session/open_mark.h"
#include "session/project_store.h"
#include "session/source_cache.h"
#include "session/stale_book.h"

namespace ledge::session {

/// One open project in time: its current document and history, its file, jobs, opened sources and
/// autosave. The window shows it and sends it edits.
class Session : public QObject {
    Q_OBJECT

public:
    explicit Session(std::filesystem::path recoveryFolder = {}, QObject* parent = nullptr);

    const doc::Document& document() const { return *m_history.current(); }
    doc::DocumentPtr snapshot() const { return m_history.current(); }
    /// Makes `next` the document, as one step of undo under `label`.
    void apply(doc::Document next, const QString& label, const QString& mergeKey = {});
    void seal() { m_history.seal(); }
    void undo();
    void redo();
    const History& history() const { return m_history; }

    const std::filesystem::path& path() const { return m_path; }
    bool isModified() const { return m_history.isModified(); }
    Result<void> open(const std::filesystem::path& path);
    /// Where the project's own file is not as it was read or written here, that is a Conflict
    /// unless it is to be written over.
    enum class Theirs : std::uint8_t { Kept, WrittenOver };
    Result<void> save(const std::filesystem::path& path, Theirs theirs = Theirs::Kept);
    /// Takes the project as it lies on the disk, as a step that can be undone.
    Result<void> takeTheirs();
    /// Tells of another window that has the project open, and since when; empty: none has.
    std::string otherWindow() const { return m_mark.other(); }
    /// A new, empty project.
    void clear();
    /// Continues from an autosaved copy.
    Result<void> recover(const RecoveryStore::Found& found);
    /// There is nothing to recover: all is saved or given up.
    void forgetAutosaved();
    const RecoveryStore& recovery() const { return m_recovery; }
    /// Where the map looks, kept with the project when it is saved.
    void rememberView(const doc::MapView& view) { m_view = view; }

    std::shared_ptr<SourceCache> sources() const { return m_sources; }
    JobRunner& jobs() { return m_jobs; }
    StaleBook& stale() { return m_stale; }
    crs::CrsPtr mapCrs() const;

Q_SIGNALS:
    /// The document is another one; `change` says in what. After replaced() it compares with the
    /// project before.
    void changed(const ledge::doc::Change& change);
    /// Another project; views and selections start anew.
    void replaced();
    void saved();

private:
    void restart(doc::Document document, std::filesystem::path path, ProjectStamp stamp);
    void moveTo(std::filesystem::path path);
    void autosave();
    void tellChange();

    History m_history;
    doc::DocumentPtr m_told;  ///< the state that changed() spoke of last
    std::filesystem::path m_path;
    ProjectStamp m_stamp;  ///< of the file at m_path as it was read or written here
    OpenMark m_mark;
    doc::MapView m_view;
    std::shared_ptr<SourceCache> m_sources;
    RecoveryStore m_recovery;
    QThreadPool m_writer;  ///< of one thread: autosaved copies, in order, beside the interface
    QTimer m_autosave;
    StaleBook m_stale;
    JobRunner m_jobs;  // last, so that jobs end before what they use
};

}  // namespace ledge::session
