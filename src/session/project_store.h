#pragma once
#include <filesystem>
#include <optional>

#include "document/document.h"

namespace ledge::session {

/// Reads a .ledge project. Errors: NotFound, BadFormat, Unsupported.
Result<doc::Document> loadProject(const std::filesystem::path& path);
/// Writes it atomically, paths relative to its folder.
Result<void> saveProject(const doc::Document& document, const std::filesystem::path& path);

/// Autosaved copies, one for each window at work, in a folder of the user's state.
class RecoveryStore {
public:
    /// `folder` empty: $XDG_STATE_HOME/indigo-ledge/recovery or ~/.local/state/….
    explicit RecoveryStore(std::filesystem::path folder = {});

    struct Found {
        std::filesystem::path file;     ///< the autosaved copy
        std::filesystem::path project;  ///< what it is a copy of; empty when never saved
        std::filesystem::file_time_type time;
    };
    /// Copies whose program no longer runs, newest first.
    std::vector<Found> orphans() const;
    /// Replaces this window's copy.
    Result<void> keep(const doc::Document& document, const std::filesystem::path& project) const;
    /// Forgets this window's copy, because all is saved.
    void forget() const;
    void remove(const Found& found) const;
    static Result<doc::Document> read(const Found& found);

private:
    std::filesystem::path ownFile() const;
    std::filesystem::path m_folder;
};

}  // namespace ledge::session
