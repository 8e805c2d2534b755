#include "session/overview_store.h"

#include <algorithm>
#include <cstdlib>

#include "core/raster/level_raster.h"
#include "io/registry.h"
#include "session/derive/lineage.h"
#include "session/terrain_files.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
// A quarter each way: a sixteenth of the cells, and what is finer is read as it is.
constexpr int kFirstLevel = 2;
constexpr std::int64_t kMostCells = 64'000'000;

// FNV-1a, 64 bit: a name for a text, the same on every machine.
std::string hashed(const std::string& text) {
    std::uint64_t h = 0xcbf29ce484222325u;
    for (const char c : text) h = (h ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
    constexpr const char* kDigits = "0123456789abcdef";
    std::string out;
    for (int shift = 60; shift >= 0; shift -= 4) out += kDigits[(h >> shift) & 15];
    return out;
}
}  // namespace

OverviewStore::OverviewStore(fs::path folder, std::uintmax_t limit)
    : m_folder(std::move(folder)), m_limit(limit) {}

fs::path OverviewStore::usualFolder() {
    if (const char* cache = std::getenv("XDG_CACHE_HOME"); cache && *cache)
        return fs::path(cache) / "indigo-ledge" / "overviews";
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : "/tmp") / ".cache" / "indigo-ledge" / "overviews";
}

bool OverviewStore::wants(const RasterSource& raster) {
    const RasterInfo& info = raster.info();
    return raster.overviews().empty() && info.width * info.height > kMostCells;
}

fs::path OverviewStore::fileFor(const fs::path& raster) const {
    const doc::FileStamp stamp = stampOf(raster);
    return m_folder / (hashed(fs::absolute(raster).string() + "\n" + std::to_string(stamp.bytes) +
                              "\n" + std::to_string(stamp.modifiedMs)) +
                       ".tif");
}

RasterPtr OverviewStore::attached(RasterPtr raster, const fs::path& path) const {
    if (!wants(*raster)) return raster;
    const fs::path file = fileFor(path);
    std::error_code code;
    if (!fs::exists(file, code)) return raster;
    const auto opened = io::openSource(file);
    const auto* copies = opened ? std::get_if<RasterPtr>(&*opened) : nullptr;
    if (!copies || (*copies)->info().bands.size() != raster->info().bands.size()) return raster;
    fs::last_write_time(file, fs::file_time_type::clock::now(), code);  // used just now
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
    makeRoom();
    const auto level = levelRaster(raster, kFirstLevel);
    return writeComputed(*level, {fileFor(path), {io::Compression::Zstd, true}}, progress, 16);
}

void OverviewStore::makeRoom() const {
    struct Copy {
        fs::path path;
        fs::file_time_type used;
        std::uintmax_t bytes;
    };
    std::vector<Copy> copies;
    std::uintmax_t total = 0;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(m_folder, code)) {
        if (entry.path().extension() != ".tif") continue;
        copies.push_back({entry.path(), entry.last_write_time(code), entry.file_size(code)});
        total += copies.back().bytes;
    }
    std::sort(copies.begin(), copies.end(),
              [](const Copy& a, const Copy& b) { return a.used < b.used; });
    for (const Copy& copy : copies) {
        if (total <= m_limit) break;
        fs::remove(copy.path, code);
        total -= copy.bytes;
    }
}

}  // namespace ledge::session
