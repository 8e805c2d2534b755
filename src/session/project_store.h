#pragma once
#include <filesystem>
#include <optional>

#include "document/document.h"

namespace ledge::session {

/// Tells one state of a project's file from any other; empty: there is no file.
using ProjectStamp = std::string;

/// A name beside a project that no file has yet: "island 2.ledge".
std::filesystem::path freeNameBeside(const std::filesystem::path& project);

/// The stamp of a project as it lies on the disk.
ProjectStamp projectStamp(const std::filesystem::path& path);
/// Reads a .ledge project and tells its stamp. Errors: NotFound, BadFormat, Unsupported.
Result<doc::Document> loadProject(const std::filesystem::path& path, ProjectStamp* stamp = nullptr);
/// Writes it atomically, paths relative to its folder. With a stamp it must lie there as that says,
/// and the stamp becomes that of what was written. Errors: IoFailure; Conflict.
Result<void> saveProject(const doc::Document& document, const std::filesystem::path& path,
                         ProjectStamp* stamp = nullptr);

/// Autosaved copies, one for each window at work, in a folder of the user's state.
class RecoveryStore {
public:
    /// `folder` empty: $XDG_STATE_HOME/indigo-ledge/recovery or ~/.local/state/….
    explicit RecoveryStore(std::filesystem::path folder = {});
    ~RecoveryStore();
    RecoveryStore(const RecoveryStore&) = delete;
    RecoveryStore& operator=(const RecoveryStore&) = delete;

    struct Found {
        std::filesystem::path file;     ///< the autosaved copy
        std::filesystem::path project;  ///< what it is a copy of; empty when never saved
        ProjectStamp base;              ///< the project as it was when the changes began
        std::filesystem::file_time_type time;
        bool isOutdated = false;  ///< the project was saved after it
    };
    /// Copies whose window is no more: newest first, those older than what was saved last.
    std::vector<Found> orphans() const;
    /// Replaces this window's copy.
    Result<void> keep(const doc::Document& document, const std::filesystem::path& project,
                      const ProjectStamp& base) const;
    /// Forgets this window's copy, because all is saved.
    void forget() const;
    void remove(const Found& found) const;
    static Result<doc::Document> read(const Found& found);

private:
    std::filesystem::path m_folder;
    std::filesystem::path m_own;  ///< this window's copy
    mutable int m_lock = -1;      ///< held on a file beside it for as long as the window lives
    void claim() const;
};

}  // namespace ledge::session
