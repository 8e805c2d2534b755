#include "session/project_store.h"

#include <signal.h>
#include <unistd.h>

#include <algorithm>
#include <cstdlib>
#include <fstream>

#include "document/json/project_json.h"
#include "io/files/atomic_file.h"

namespace ledge::session {
namespace {
namespace fs = std::filesystem;
constexpr std::uintmax_t kLargestProject = 256u << 20;

fs::path defaultFolder() {
    if (const char* state = std::getenv("XDG_STATE_HOME"); state && *state)
        return fs::path(state) / "indigo-ledge" / "recovery";
    const char* home = std::getenv("HOME");
    return fs::path(home ? home : "/tmp") / ".local/state/indigo-ledge/recovery";
}

bool isRunning(long process) {
    return process > 0 && (::kill(static_cast<pid_t>(process), 0) == 0 || errno == EPERM);
}
}  // namespace

Result<doc::Document> loadProject(const fs::path& path) {
    const auto text = io::readText(path, kLargestProject);
    if (!text) return text.error();
    auto document = doc::projectFromText(*text, fs::absolute(path).parent_path());
    if (document) return document;
    Error error = document.error();
    error.what = path.string();
    return error;
}

Result<void> saveProject(const doc::Document& document, const fs::path& path) {
    return io::writeText(path, doc::projectText(document, fs::absolute(path).parent_path()));
}

RecoveryStore::RecoveryStore(fs::path folder)
    : m_folder(folder.empty() ? defaultFolder() : std::move(folder)) {}

fs::path RecoveryStore::ownFile() const {
    return m_folder / (std::to_string(::getpid()) + ".ledge");
}

Result<void> RecoveryStore::keep(const doc::Document& document, const fs::path& project) const {
    std::error_code code;
    fs::create_directories(m_folder, code);
    // Absolute paths: the copy lies elsewhere than the project. The first line names the project.
    return io::writeText(ownFile(), project.string() + "\n" + doc::projectText(document, m_folder));
}

void RecoveryStore::forget() const {
    std::error_code ignored;
    fs::remove(ownFile(), ignored);
}

void RecoveryStore::remove(const Found& found) const {
    std::error_code ignored;
    fs::remove(found.file, ignored);
}

std::vector<RecoveryStore::Found> RecoveryStore::orphans() const {
    std::vector<Found> out;
    std::error_code code;
    for (const auto& file : fs::directory_iterator(m_folder, code)) {
        if (file.path().extension() != ".ledge") continue;
        if (isRunning(std::strtol(file.path().stem().c_str(), nullptr, 10))) continue;
        std::ifstream in(file.path());
        std::string project;
        if (!std::getline(in, project)) continue;
        out.push_back({file.path(), project, file.last_write_time(code)});
    }
    std::sort(out.begin(), out.end(),
              [](const Found& a, const Found& b) { return a.time > b.time; });
    return out;
}

Result<doc::Document> RecoveryStore::read(const Found& found) {
    const auto text = io::readText(found.file, kLargestProject);
    if (!text) return text.error();
    const auto line = text->find('\n');
    return doc::projectFromText(text->substr(line == std::string::npos ? 0 : line + 1),
                                found.file.parent_path());
}

}  // namespace ledge::session
