#include "session/project_store.h"

#include <fcntl.h>
#include <unistd.h>

#include <QCryptographicHash>
#include <algorithm>
#include <atomic>
#include <cerrno>
#include <chrono>
#include <cstdlib>
#include <fstream>
#include <thread>

#include "document/json/project_json.h"
#include "io/files/atomic_file.h"
#include "io/files/leftovers.h"

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

ProjectStamp stampOfText(const std::string& text) {
    const auto hash = QCryptographicHash::hash(
        QByteArrayView(text.data(), static_cast<qsizetype>(text.size())), QCryptographicHash::Sha1);
    return hash.toHex().toStdString();
}

// One writer at a time between looking at a project and renaming the new one over it.
class SavingLock {
public:
    explicit SavingLock(const fs::path& project)
        : m_path(project.parent_path() / ("." + project.filename().string() + ".lock.ledge-part")) {
        constexpr int kMostWaits = 100;
        for (int i = 0; i < kMostWaits && m_handle < 0; ++i) {
            m_handle = io::lockedFile(m_path, O_RDWR | O_CREAT);
            if (m_handle >= 0 || errno == EACCES || errno == EROFS || errno == ENOENT) return;
            std::this_thread::sleep_for(std::chrono::milliseconds(20));
        }
    }
    ~SavingLock() {
        if (m_handle < 0) return;
        std::error_code ignored;
        fs::remove(m_path, ignored);
        ::close(m_handle);
    }
    SavingLock(const SavingLock&) = delete;
    SavingLock& operator=(const SavingLock&) = delete;

private:
    fs::path m_path;
    int m_handle = -1;
};

fs::path lockOf(fs::path copy) { return copy.replace_extension(".lock"); }
}  // namespace

fs::path freeNameBeside(const fs::path& project) {
    std::error_code code;
    fs::path out = project;
    for (int i = 2; fs::exists(out, code); ++i)
        out.replace_filename(project.stem().string() + " " + std::to_string(i) +
                             project.extension().string());
    return out;
}

ProjectStamp projectStamp(const fs::path& path) {
    const auto text = io::readText(path, kLargestProject);
    return text ? stampOfText(*text) : ProjectStamp();
}

Result<doc::Document> loadProject(const fs::path& path, ProjectStamp* stamp) {
    const auto text = io::readText(path, kLargestProject);
    if (!text) return text.error();
    auto document = doc::projectFromText(*text, fs::absolute(path).parent_path());
    if (document && stamp) *stamp = stampOfText(*text);
    if (document) return document;
    Error error = document.error();
    error.what = path.string();
    return error;
}

Result<void> saveProject(const doc::Document& document, const fs::path& path, ProjectStamp* stamp) {
    const std::string text = doc::projectText(document, fs::absolute(path).parent_path());
    if (!stamp) return io::writeText(path, text);
    const SavingLock lock(path);
    if (projectStamp(path) != *stamp)
        return Error{ErrorCode::Conflict, path.string(),
                     "was changed by another window or program since it was read here",
                     "open it again, or save under another name"};
    const auto done = io::writeText(path, text);
    if (done) *stamp = stampOfText(text);
    return done;
}

RecoveryStore::RecoveryStore(fs::path folder)
    : m_folder(folder.empty() ? defaultFolder() : std::move(folder)) {
    // Of its own even where a process had the same number before.
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    static std::atomic<unsigned> count{0};
    m_own = m_folder / (std::to_string(::getpid()) + "-" + std::to_string(now.count()) + "-" +
                        std::to_string(count++) + ".ledge");
}

RecoveryStore::~RecoveryStore() {
    if (m_lock < 0) return;
    std::error_code ignored;
    fs::remove(lockOf(m_own), ignored);
    ::close(m_lock);
}

void RecoveryStore::claim() const {
    std::error_code ignored;
    fs::create_directories(m_folder, ignored);
    if (m_lock < 0) m_lock = io::lockedFile(lockOf(m_own), O_RDWR | O_CREAT);
}

Result<void> RecoveryStore::keep(const doc::Document& document, const fs::path& project,
                                 const ProjectStamp& base) const {
    claim();
    // Absolute paths: the copy lies elsewhere than the project. The first line names the project.
    return io::writeText(m_own, project.string() + "\t" + base + "\n" +
                                    doc::projectText(document, m_folder));
}

void RecoveryStore::forget() const {
    std::error_code ignored;
    fs::remove(m_own, ignored);
}

void RecoveryStore::remove(const Found& found) const {
    std::error_code ignored;
    fs::remove(found.file, ignored);
    fs::remove(lockOf(found.file), ignored);
}

std::vector<RecoveryStore::Found> RecoveryStore::orphans() const {
    std::vector<Found> out;
    std::error_code code;
    for (const auto& file : fs::directory_iterator(m_folder, code)) {
        if (file.path().extension() != ".ledge" || file.path() == m_own) continue;
        // Its window lives as long as it holds the lock.
        if (fs::exists(lockOf(file.path()), code)) {
            const int lock = io::lockedFile(lockOf(file.path()), O_RDWR);
            if (lock < 0) continue;
            ::close(lock);
        }
        std::ifstream in(file.path());
        std::string line;
        if (!std::getline(in, line)) continue;
        Found found{file.path(), line, {}, file.last_write_time(code), false};
        if (const auto tab = line.rfind('\t'); tab != std::string::npos) {
            found.project = line.substr(0, tab);
            found.base = line.substr(tab + 1);
        }
        const auto saved = fs::last_write_time(found.project, code);
        found.isOutdated = !code && saved > found.time;
        out.push_back(std::move(found));
    }
    std::sort(out.begin(), out.end(), [](const Found& a, const Found& b) {
        return a.isOutdated != b.isOutdated ? b.isOutdated : a.time > b.time;
    });
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
