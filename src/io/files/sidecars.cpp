#include "io/files/sidecars.h"

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"

namespace ledge::io {
namespace fs = std::filesystem;

std::optional<fs::path> sidecar(const fs::path& path, const std::string& suffix) {
    std::string upper = suffix;
    for (char& c : upper) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    for (const std::string& ending : {suffix, upper}) {
        fs::path other = path;
        other.replace_extension(ending);
        std::error_code ignored;
        if (fs::is_regular_file(other, ignored)) return other;
    }
    return {};
}

crs::CrsPtr crsBeside(const fs::path& path, std::vector<std::string>& notes) {
    const auto prj = sidecar(path, ".prj");
    if (!prj) {
        notes.push_back("no .prj file beside it: its CRS is undeclared");
        return {};
    }
    const auto text = readText(*prj, 1 << 20);
    if (!text) {
        notes.push_back(text.error().text());
        return {};
    }
    const auto found = crs::crsFromWkt(trimmed(*text));
    if (found) return *found;
    notes.push_back(prj->filename().string() + ": " + found.error().text());
    return {};
}

Result<void> putCrs(FileSet& set, const crs::CrsPtr& crs) {
    if (!crs) return set.put(".prj", {});
    if (const auto text = readText(set.pathOf(".prj"), 1 << 20))
        if (const auto there = crs::crsFromWkt(trimmed(*text)); there && crs::isSame(*there, crs)) {
            set.keep(".prj");
            return {};
        }
    return set.put(".prj", crs::toPlainWkt(*crs));
}

}  // namespace ledge::io
