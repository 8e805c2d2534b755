#include "session/cache_folder.h"

#include <algorithm>
#include <cstdlib>
#include <vector>

#include "session/derive/lineage.h"

namespace ledge::session {
namespace fs = std::filesystem;

fs::path cacheFolder(std::string_view name) {
    if (const char* cache = std::getenv("XDG_CACHE_HOME"); cache && *cache)
        return fs::path(cache) / "indigo-ledge" / name;
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : "/tmp") / ".cache" / "indigo-ledge" / name;
}

std::string hashed(const std::string& text) {
    std::uint64_t h = 0xcbf29ce484222325u;
    for (const char c : text) h = (h ^ static_cast<unsigned char>(c)) * 0x100000001b3u;
    constexpr const char* kDigits = "0123456789abcdef";
    std::string out;
    for (int shift = 60; shift >= 0; shift -= 4) out += kDigits[(h >> shift) & 15];
    return out;
}

std::string stateOf(const fs::path& file) {
    const doc::FileStamp stamp = stampOf(file);
    return fs::absolute(file).string() + "\n" + std::to_string(stamp.bytes) + "\n" +
           std::to_string(stamp.modifiedMs);
}

void makeRoom(const fs::path& folder, std::string_view suffix, std::uintmax_t limit) {
    struct Copy {
        fs::path path;
        fs::file_time_type used;
        std::uintmax_t bytes;
    };
    std::vector<Copy> copies;
    std::uintmax_t total = 0;
    std::error_code code;
    for (const auto& entry : fs::directory_iterator(folder, code)) {
        if (entry.path().extension() != suffix) continue;
        copies.push_back({entry.path(), entry.last_write_time(code), entry.file_size(code)});
        total += copies.back().bytes;
    }
    std::sort(copies.begin(), copies.end(),
              [](const Copy& a, const Copy& b) { return a.used < b.used; });
    for (const Copy& copy : copies) {
        if (total <= limit) break;
        fs::remove(copy.path, code);
        total -= copy.bytes;
    }
}

void touch(const fs::path& file) {
    std::error_code code;
    fs::last_write_time(file, fs::file_time_type::clock::now(), code);
}

}  // namespace ledge::session
