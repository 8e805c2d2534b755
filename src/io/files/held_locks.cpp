#include "io/files/held_locks.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <cerrno>
#include <map>
#include <mutex>
#include <vector>

namespace ledge::io {
namespace {
struct Held {
    int holders = 0;
    std::vector<int> handles;  // to be closed with the last of them
};
struct AllHeld {
    std::mutex mutex;
    std::map<HeldLocks::File, Held> files;
};
// Never destroyed: databases may be closed after it would be.
AllHeld& allHeld() {
    static auto* const all = new AllHeld;
    return *all;
}

std::string beginningOf(int handle, std::size_t most) {
    std::string out(most, '\0');
    std::size_t got = 0;
    while (got < most) {
        const ssize_t more = ::pread(handle, out.data() + got, most - got, static_cast<off_t>(got));
        if (more < 0 && errno == EINTR) continue;
        if (more <= 0) break;
        got += static_cast<std::size_t>(more);
    }
    out.resize(got);
    return out;
}
}  // namespace

HeldLocks::HeldLocks(const std::filesystem::path& path) {
    struct stat found {};
    if (::stat(path.c_str(), &found) != 0) return;
    m_file = {found.st_dev, found.st_ino};
    const std::lock_guard lock(allHeld().mutex);
    ++allHeld().files[m_file].holders;
}

HeldLocks::~HeldLocks() {
    if (m_file == File()) return;
    const std::lock_guard lock(allHeld().mutex);
    const auto held = allHeld().files.find(m_file);
    if (--held->second.holders > 0) return;
    for (const int handle : held->second.handles) ::close(handle);
    allHeld().files.erase(held);
}

namespace {
// A handle of the file that is there now. Called with the mutex locked.
struct Opened {
    int handle = -1;
    bool isKept = false;  // it is held, and closed with it
};
Opened openedThere(const std::filesystem::path& path) {
    const auto heldAs = [](const struct stat& found) {
        return allHeld().files.find({found.st_dev, found.st_ino});
    };
    struct stat found {};
    // One that stays open serves all who look.
    if (::stat(path.c_str(), &found) == 0)
        if (const auto held = heldAs(found);
            held != allHeld().files.end() && !held->second.handles.empty())
            return {held->second.handles.front(), true};
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0 || ::fstat(handle, &found) != 0) return {handle, false};
    const auto held = heldAs(found);
    if (held == allHeld().files.end()) return {handle, false};
    held->second.handles.push_back(handle);
    return {handle, true};
}
}  // namespace

std::optional<std::string> readBeginning(const std::filesystem::path& path, std::size_t most) {
    // Held for as long as it is read, so that a slow disk keeps nobody else waiting.
    const HeldLocks held(path);
    std::unique_lock lock(allHeld().mutex);
    const Opened opened = openedThere(path);
    if (opened.handle < 0) return {};
    if (opened.isKept) {
        lock.unlock();
        return beginningOf(opened.handle, most);
    }
    // Another file took its place since: nobody may begin to hold it until it is closed.
    std::string out = beginningOf(opened.handle, most);
    ::close(opened.handle);
    return out;
}

std::optional<int> heldHandle(const std::filesystem::path& path) {
    const std::lock_guard lock(allHeld().mutex);
    const Opened opened = openedThere(path);
    if (opened.isKept) return opened.handle;
    if (opened.handle >= 0) ::close(opened.handle);
    return {};
}

}  // namespace ledge::io
