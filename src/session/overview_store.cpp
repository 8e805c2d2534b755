#include "session/overview_store.h"

#include "core/raster/level_raster.h"
#include "io/registry.h"
#include "session/cache_folder.h"
#include "session/terrain_files.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
// A quarter each way: a sixteenth of the cells, and what is finer is read as it is.
constexpr int kFirstLevel = 2;
constexpr std::int64_t kMostCells = 64'000'000;

}  // namespace

OverviewStore::OverviewStore(fs::path folder, std::uintmax_t limit)
    : m_folder(std::move(folder)), m_limit(limit) {}

fs::path OverviewStore::usualFolder() { return cacheFolder("overviews"); }

bool OverviewStore::wants(const RasterSource& raster) {
    const RasterInfo& info = raster.info();
    return raster.overviews().empty() && info.width * info.height > kMostCells;
}

fs::path OverviewStore::fileFor(const fs::path& raster) const {
    return m_folder / (hashed(stateOf(raster)) + ".tif");
}

RasterPtr OverviewStore::attached(RasterPtr raster, const fs::path& path) const {
    if (!wants(*raster)) return raster;
    const fs::path file = fileFor(path);
    std::error_code code;
    if (!fs::exists(file, code)) return raster;
    const auto opened = io::openSource(file);
    const auto* copies = opened ? std::get_if<RasterPtr>(&*opened) : nullptr;
    if (!copies || (*copies)->info().bands.size() != raster->info().bands.size()) return raster;
    touch(file);
    std::vector<RasterPtr> levels{*copies};
    for (const RasterPtr& level : (*copies)->overviews()) levels.push_back(level);
    return withOverviews(std::move(raster), std::move(levels));
}

Result<void> OverviewStore::build(const RasterPtr& raster, const fs::path& path,
                                  const Progress& progress) const {
    std::error_code code;
    fs::create_directories(m_folder, code);
    if (code)
        return Error{ErrorCode::IoFailure, m_folder.string(), "cannot be made",
                     "set XDG_CACHE_HOME to a folder that can be written"};
    makeRoom(m_folder, ".tif", m_limit);
    const auto level = levelRaster(raster, kFirstLevel);
    return writeComputed(*level, {fileFor(path), {io::Compression::Zstd, true}}, progress, 16);
}

}  // namespace ledge::session
