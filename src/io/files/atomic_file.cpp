#include "io/files/atomic_file.h"

#include <fcntl.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/statvfs.h>
#include <unistd.h>

#include <cerrno>
#include <cstring>
#include <fstream>
#include <mutex>
#include <set>

#include "io/files/leftovers.h"

namespace ledge::io {
namespace fs = std::filesystem;
namespace {
// What a link leads to, also when that is not there yet; the path itself where it is no link.
fs::path followed(fs::path path) {
    constexpr int kMostLinks = 40;
    std::error_code code;
    for (int i = 0; i < kMostLinks && fs::is_symlink(path, code); ++i) {
        const fs::path to = fs::read_symlink(path, code);
        if (code) break;
        path = to.is_absolute() ? to : path.parent_path() / to;
    }
    return path;
}

std::mutex g_mutex;  // guards the set
std::set<fs::path> g_unfinished;
}  // namespace

void AtomicFile::abandonAll() {
    const std::lock_guard lock(g_mutex);
    std::error_code ignored;
    for (const fs::path& path : g_unfinished) fs::remove(path, ignored);
}

AtomicFile::AtomicFile(fs::path target)
    : m_target(std::move(target)), m_place(followed(m_target)),
      m_temporary(unfinishedName(m_place)) {
    clearLeftovers(m_place.parent_path());
    m_handle = lockedFile(m_temporary, O_RDWR | O_CREAT | O_EXCL);
    const std::lock_guard lock(g_mutex);
    g_unfinished.insert(m_temporary);
}

AtomicFile::~AtomicFile() {
    std::error_code ignored;
    if (!m_isDone && m_handle >= 0) fs::remove(m_temporary, ignored);
    if (m_handle >= 0) ::close(m_handle);
    const std::lock_guard lock(g_mutex);
    g_unfinished.erase(m_temporary);
}

Result<void> AtomicFile::settle() {
    if (m_handle < 0)
        return ioFailure(m_target, "cannot be created", "check that the folder can be written");
    struct stat before {};
    if (::stat(m_place.c_str(), &before) == 0 && S_ISDIR(before.st_mode))
        return ioFailure(m_target, "is a folder", "choose another name");
    if (::stat(m_place.c_str(), &before) == 0) {
        // Another owner's file can be replaced where the folder allows it, but not given back.
        if (::fchown(m_handle, before.st_uid, before.st_gid) != 0) errno = 0;
        ::fchmod(m_handle, before.st_mode & 07777);
    }
    if (::fsync(m_handle) != 0) return writeFailure(m_target, std::strerror(errno));
    return {};
}

Result<void> AtomicFile::commit() {
    if (const auto done = settle(); !done) return done;
    if (::rename(m_temporary.c_str(), m_place.c_str()) != 0)
        return ioFailure(m_target, std::strerror(errno), "check that the folder can be written");
    m_isDone = true;
    syncFolder(m_place.parent_path());
    return {};
}

Result<bool> AtomicFile::commitNew() {
    if (const auto done = settle(); !done) return done.error();
    if (::renameat2(AT_FDCWD, m_temporary.c_str(), AT_FDCWD, m_place.c_str(), RENAME_NOREPLACE) !=
        0) {
        if (errno == EEXIST) return false;
        // Some file systems know no such renaming: a second name is as exclusive.
        if (::link(m_temporary.c_str(), m_place.c_str()) != 0) {
            if (errno == EEXIST) return false;
            return ioFailure(m_target, std::strerror(errno),
                             "check that the folder can be written");
        }
        ::unlink(m_temporary.c_str());
    }
    m_isDone = true;
    syncFolder(m_place.parent_path());
    return true;
}

Result<void> fillFile(const fs::path& path, std::string_view text, const fs::path& named) {
    errno = 0;
    std::ofstream out(path, std::ios::binary);
    out.write(text.data(), static_cast<std::streamsize>(text.size()));
    out.close();
    if (!out) return writeFailure(named, {});
    return {};
}

Result<void> writeText(const fs::path& path, std::string_view text) {
    AtomicFile file(path);
    if (const auto done = fillFile(file.temporary(), text, path); !done) return done;
    return file.commit();
}

Result<std::string> readText(const fs::path& path, std::uintmax_t limit) {
    std::error_code code;
    const auto size = fs::file_size(path, code);
    if (code) return Error{ErrorCode::NotFound, nameOf(path), code.message(), "check the path"};
    if (size > limit)
        return Error{ErrorCode::LimitExceeded, nameOf(path),
                     "larger than " + std::to_string(limit / 1024 / 1024) + " MB of text",
                     "convert it to GeoPackage with a program that streams"};
    std::ifstream in(path, std::ios::binary);
    std::string text(size, '\0');
    in.read(text.data(), static_cast<std::streamsize>(size));
    if (!in) return ioFailure(path, "could not be read", "check permissions");
    return text;
}

std::string nameOf(const fs::path& path) { return path.string(); }

Error badFormat(const fs::path& path, const std::string& why, const std::string& mend) {
    return {ErrorCode::BadFormat, nameOf(path), why, mend};
}
Error writeFailure(const fs::path& path, const std::string& why) {
    const int reason = errno;
    if (reason == EDQUOT)
        return ioFailure(path, "your share of the disk is used up",
                         "remove files there, or write elsewhere");
    struct rlimit most {};
    const bool isLimited = ::getrlimit(RLIMIT_FSIZE, &most) == 0 && most.rlim_cur != RLIM_INFINITY;
    if (reason == EFBIG || (isLimited && reason != ENOSPC))
        return ioFailure(path, "the file would grow larger than is allowed here",
                         "write elsewhere, or with compression");
    constexpr std::uint64_t kNoRoom = 64 * 1024;
    struct statvfs disk {};
    const fs::path folder = path.parent_path().empty() ? "." : path.parent_path();
    const bool isFull = ::statvfs(folder.c_str(), &disk) == 0 && disk.f_blocks > 0 &&
                        std::uint64_t{disk.f_bavail} * disk.f_frsize < kNoRoom;
    if (reason == ENOSPC || isFull)
        return ioFailure(path, "the disk is full", "make room on it, or write elsewhere");
    return ioFailure(path, why.empty() ? "could not be written" : why,
                     "check that the folder exists, can be written and has free space");
}
Error ioFailure(const fs::path& path, const std::string& why, const std::string& mend) {
    return {ErrorCode::IoFailure, nameOf(path), why, mend};
}

}  // namespace ledge::io
