#pragma once
#include <filesystem>

#include "document/drawing_data.h"

namespace ledge::session {

/// What drawing large layers needs beside their files, kept in a folder of the user's cache: their
/// coordinates in the map's CRS, copies with fewer corners, and the index. A project opened again
/// need not work them out anew. What is kept is for one state of a file and one machine.
class ShapeStore {
public:
    /// `limit` in bytes: what is longest unused goes first. An empty folder keeps nothing.
    explicit ShapeStore(std::filesystem::path folder = usualFolder(),
                        std::uintmax_t limit = std::uintmax_t{4} << 30);
    /// Below XDG_CACHE_HOME, else ~/.cache.
    static std::filesystem::path usualFolder();

    /// Whether working it out takes so long that keeping it is worth the room: of files as they
    /// are, with very many points.
    static bool wants(const doc::SourceRef& source, const FeatureTable& table);

    struct Kept {
        std::shared_ptr<doc::MapFeatures> features;
        double tolerance = 0;  ///< that it was worked out for; units of the map
    };
    /// Over the table as it was read; nothing where none is kept, or what is kept is damaged.
    std::optional<Kept> read(const doc::SourceRef& source, const TablePtr& table,
                             const crs::CrsPtr& mapCrs) const;
    /// In place of what was kept before. Leaves nothing behind when it fails.
    bool keep(const doc::SourceRef& source, const TablePtr& table, const crs::CrsPtr& mapCrs,
              const Kept& kept) const;
    std::filesystem::path fileFor(const doc::SourceRef& source, const crs::CrsPtr& from,
                                  const crs::CrsPtr& mapCrs) const;

private:
    std::filesystem::path m_folder;
    std::uintmax_t m_limit;
};

}  // namespace ledge::session
