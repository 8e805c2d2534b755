#pragma once
#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"

namespace ledge::session {

/// CRSs a person keeps at hand across projects: favourites and the last used, as EPSG:n or WKT
/// texts, in a file of the user's own.
class CrsShelf {
public:
    /// Reads the file; a missing or damaged one is an empty shelf.
    explicit CrsShelf(std::filesystem::path file);
    /// $XDG_CONFIG_HOME/indigo-ledge/crs.json or its like in ~/.config.
    static std::filesystem::path usualFile();

    const std::vector<std::string>& favourites() const { return m_favourites; }
    const std::vector<std::string>& recent() const { return m_recent; }
    bool isFavourite(const std::string& crs) const;
    /// Both write the file at once. Errors: IoFailure; the shelf in memory is changed all the same.
    Result<void> setFavourite(const std::string& crs, bool isFavourite);
    Result<void> addRecent(const std::string& crs);

private:
    Result<void> save() const;

    std::filesystem::path m_file;
    std::vector<std::string> m_favourites, m_recent;  ///< newest first
};

}  // namespace ledge::session
