#include "io/files/leftovers.h"

#include <fcntl.h>
#include <sys/file.h>
#include <sys/stat.h>
#include <unistd.h>

#include <atomic>
#include <fstream>
#include <thread>
#include <vector>

#include "io/files/atomic_file.h"

namespace ledge::io {
namespace fs = std::filesystem;
namespace {
constexpr std::string_view kUnfinished = ".ledge-part", kList = ".ledge-set";
std::atomic<unsigned> g_counter{0};

// Names have room for 255 bytes in all.
std::string shortName(const fs::path& target) { return target.filename().string().substr(0, 200); }

// Also what SQLite puts beside a database that it writes.
bool isUnfinished(const std::string& name) {
    return name.starts_with('.') && name.find(kUnfinished) != std::string::npos;
}

void removeWhenDead(const fs::path& path) {
    const int handle = lockedFile(path, O_RDONLY);
    if (handle < 0) return;
    std::error_code ignored;
    fs::remove(path, ignored);
    ::close(handle);
}
}  // namespace

fs::path unfinishedName(const fs::path& target) {
    return target.parent_path() / ("." + shortName(target) + "." + std::to_string(::getpid()) +
                                   "-" + std::to_string(g_counter++) + std::string(kUnfinished));
}

fs::path listName(const fs::path& target) {
    return target.parent_path() / ("." + shortName(target) + std::string(kList));
}

int lockedFile(const fs::path& path, int flags) {
    for (int tries = 0; tries < 3; ++tries) {
        const int handle = ::open(path.c_str(), flags | O_CLOEXEC, 0666);
        if (handle < 0) return -1;
        struct stat opened {
        }, named{};
        // Whoever clears away may have taken it between opening and locking.
        if (::flock(handle, LOCK_EX | LOCK_NB) == 0 && ::fstat(handle, &opened) == 0 &&
            ::stat(path.c_str(), &named) == 0 && opened.st_ino == named.st_ino)
            return handle;
        ::close(handle);
        if ((flags & O_CREAT) == 0) return -1;
    }
    return -1;
}

void syncFolder(const fs::path& folder) {
    const int handle = ::open(folder.empty() ? "." : folder.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) return;
    ::fsync(handle);
    ::close(handle);
}

void clearLeftovers(const fs::path& folder) {
    std::error_code code;
    std::vector<fs::path> lists, unfinished;
    for (fs::directory_iterator it(folder.empty() ? "." : folder, code), end; !code && it != end;
         it.increment(code)) {
        const std::string name = it->path().filename().string();
        if (!name.starts_with('.')) continue;
        if (name.ends_with(kList)) lists.push_back(it->path());
        if (isUnfinished(name)) unfinished.push_back(it->path());
    }
    bool isAllDone = true;
    for (const fs::path& list : lists) {
        const int handle = lockedFile(list, O_RDONLY);
        if (handle < 0 || !doListed(list)) isAllDone = false;
        if (handle >= 0) ::close(handle);
    }
    // A list that waits for its turn names files that must stay.
    if (isAllDone)
        for (const fs::path& path : unfinished) removeWhenDead(path);
}

Result<void> finishInterrupted(const fs::path& target) {
    std::error_code code;
    const fs::path list = listName(target);
    constexpr int kMostWaits = 100;
    for (int waits = 0; fs::exists(list, code); ++waits) {
        const int handle = lockedFile(list, O_RDONLY);
        if (handle >= 0) {
            const auto done = doListed(list);
            ::close(handle);
            return done;
        }
        if (waits == kMostWaits)
            return ioFailure(target, "is being replaced by another program", "try again later");
        std::this_thread::sleep_for(std::chrono::milliseconds(20));
    }
    return {};
}

std::string renameLine(const fs::path& from, const fs::path& to) {
    return "rename\n" + from.filename().string() + "\n" + to.filename().string() + "\n";
}
std::string removeLine(const fs::path& what) {
    return "remove\n" + what.filename().string() + "\n";
}

Result<void> doListed(const fs::path& list) {
    std::ifstream in(list);
    std::error_code code;
    const fs::path folder = list.parent_path();
    // A list that came with somebody's data must not reach into other folders, nor rename what is
    // not an unfinished file.
    const auto isName = [](const std::string& name) {
        return !name.empty() && name.find('/') == std::string::npos && name != "." && name != "..";
    };
    for (std::string what, one, two; std::getline(in, what);) {
        if (what == "rename" && std::getline(in, one) && std::getline(in, two)) {
            if (!isName(one) || !isName(two) || !isUnfinished(one)) continue;
            if (!fs::exists(folder / one, code)) continue;  // done before
            fs::rename(folder / one, folder / two, code);
            if (code)
                return ioFailure(folder / two,
                                 "its replacement was interrupted and cannot be finished: " +
                                     code.message(),
                                 "make its folder writable and open it again");
        } else if (what == "remove" && std::getline(in, one) && isName(one)) {
            fs::remove(folder / one, code);
        }
    }
    syncFolder(folder);
    fs::remove(list, code);
    return {};
}

}  // namespace ledge::io
