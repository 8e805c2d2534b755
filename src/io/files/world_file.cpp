#include "io/files/world_file.h"

#include <array>
#include <sstream>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"

namespace ledge::io {
namespace fs = std::filesystem;

fs::path worldFilePath(const fs::path& picture) {
    const std::string suffix = lowered(picture.extension().string());
    fs::path out = picture;
    // First and last letter of the picture's suffix, and a "w".
    if (suffix.size() >= 3)
        return out.replace_extension(std::string{'.', suffix[1], suffix.back(), 'w'});
    return out.replace_extension(".wld");
}

std::optional<Affine> worldFileBeside(const fs::path& picture, std::vector<std::string>& notes) {
    const std::string suffix = lowered(picture.extension().string());
    std::optional<fs::path> found;
    for (const std::string& ending :
         {worldFilePath(picture).extension().string(), suffix + "w", std::string(".wld")})
        if (!found) found = sidecar(picture, ending);
    if (!found) return {};
    const auto text = readText(*found, 1 << 16);
    std::array<double, 6> n{};
    std::size_t count = 0;
    if (text) {
        std::istringstream in(*text);
        for (std::string word; count < n.size() && in >> word; ++count) {
            const auto number = parseNumber(word);
            if (!number || !std::isfinite(*number)) break;
            n[count] = *number;
        }
    }
    const Affine centre{n[0], n[2], n[4], n[1], n[3], n[5]};
    if (count == n.size() && centre.isUsable()) return centre.after({1, 0, -0.5, 0, 1, -0.5});
    notes.push_back(nameOf(*found) + ": not a usable world file; it wants six numbers");
    return {};
}

std::string worldFileText(const Affine& toWorld) {
    const Affine t = toWorld.after({1, 0, 0.5, 0, 1, 0.5});
    std::string out;
    for (const double v : {t.a, t.d, t.b, t.e, t.c, t.f}) out += exactNumber(v) + "\n";
    return out;
}

}  // namespace ledge::io
