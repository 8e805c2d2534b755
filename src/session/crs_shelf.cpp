#include "session/crs_shelf.h"

#include <algorithm>
#include <cstdlib>
#include <nlohmann/json.hpp>

#include "io/files/atomic_file.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kMostRecent = 8;

std::vector<std::string> texts(const nlohmann::json& json, const char* name) {
    std::vector<std::string> out;
    if (const auto it = json.find(name); it != json.end() && it->is_array())
        for (const auto& item : *it)
            if (item.is_string()) out.push_back(item.get<std::string>());
    return out;
}
}  // namespace

fs::path CrsShelf::usualFile() {
    const char* config = std::getenv("XDG_CONFIG_HOME");
    const char* home = std::getenv("HOME");
    const fs::path base = config && *config ? fs::path(config)
                          : home            ? fs::path(home) / ".config"
                                            : fs::temp_directory_path();
    return base / "indigo-ledge" / "crs.json";
}

CrsShelf::CrsShelf(fs::path file) : m_file(std::move(file)) {
    std::error_code ignored;
    if (!fs::exists(m_file, ignored)) return;
    const auto text = io::readText(m_file, 1 << 20);
    if (!text) return;
    const auto json = nlohmann::json::parse(*text, nullptr, false);
    if (!json.is_object()) return;
    m_favourites = texts(json, "favourites");
    m_recent = texts(json, "recent");
}

bool CrsShelf::isFavourite(const std::string& crs) const {
    return std::find(m_favourites.begin(), m_favourites.end(), crs) != m_favourites.end();
}

Result<void> CrsShelf::setFavourite(const std::string& crs, bool isOn) {
    if (crs.empty()) return {};
    std::erase(m_favourites, crs);
    if (isOn) m_favourites.insert(m_favourites.begin(), crs);
    return save();
}

Result<void> CrsShelf::addRecent(const std::string& crs) {
    if (crs.empty()) return {};
    std::erase(m_recent, crs);
    m_recent.insert(m_recent.begin(), crs);
    if (m_recent.size() > kMostRecent) m_recent.resize(kMostRecent);
    return save();
}

Result<void> CrsShelf::save() const {
    std::error_code code;
    fs::create_directories(m_file.parent_path(), code);
    const nlohmann::ordered_json json{{"favourites", m_favourites}, {"recent", m_recent}};
    return io::writeText(m_file, json.dump(2) + "\n");
}

}  // namespace ledge::session
