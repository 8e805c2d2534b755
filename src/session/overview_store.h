#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"

namespace ledge::session {

/// Reduced copies of large rasters that bring none, kept in a folder of the user's cache so that
/// the files themselves stay as they are. For pictures only; numbers never come from them.
class OverviewStore {
public:
    /// `limit` in bytes: the copies longest unused go first.
    explicit OverviewStore(std::filesystem::path folder = usualFolder(),
                           std::uintmax_t limit = std::uintmax_t{8} << 30);
    /// Below XDG_CACHE_HOME, else ~/.cache.
    static std::filesystem::path usualFolder();

    /// Whether pictures of it would mean reading very many cells.
    static bool wants(const RasterSource& raster);
    /// Where the copies of a file in its present state are, or would be.
    std::filesystem::path fileFor(const std::filesystem::path& raster) const;
    /// The raster with its copies when they are there; else as it is.
    RasterPtr attached(RasterPtr raster, const std::filesystem::path& path) const;
    /// Makes the copies, from a quarter of the size on. Leaves nothing behind when stopped.
    Result<void> build(const RasterPtr& raster, const std::filesystem::path& path,
                       const Progress& progress) const;

private:
    std::filesystem::path m_folder;
    std::uintmax_t m_limit;
};

}  // namespace ledge::session
