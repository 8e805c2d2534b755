#include "io/files/atomic_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <atomic>
#include <cerrno>
#include <cstring>
#include <fstream>

namespace ledge::io {
namespace fs = std::filesystem;
namespace {
std::atomic<unsigned> g_counter{0};

bool syncPath(const fs::path& path) {
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) return false;
    const bool fine = ::fsync(handle) == 0;
    ::close(handle);
    return fine;
}
}  // namespace

AtomicFile::AtomicFile(fs::path target) : m_target(std::move(target)) {
    m_temporary = m_target.parent_path() /
                  ("." + m_target.filename().string() + "." + std::to_string(::getpid()) + "-" +
                   std::to_string(g_counter++) + ".part");
}

AtomicFile::~AtomicFile() {
    std::error_code ignored;
    if (!m_done) fs::remove(m_temporary, ignored);
}

Result<void> AtomicFile::commit() {
    if (!syncPath(m_temporary)) return writeFailure(m_target, std::strerror(errno));
    std::error_code code;
    fs::rename(m_temporary, m_target, code);
    if (code) return ioFailure(m_target, code.message(), "check that the folder can be written");
    m_done = true;
    return {};
}

Result<void> writeText(const fs::path& path, std::string_view text) {
    AtomicFile file(path);
    std::ofstream out(file.temporary(), std::ios::binary);
    out.write(text.data(), static_cast<std::streamsize>(text.size()));
    out.close();
    if (!out) return writeFailure(path, {});
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
    switch (errno) {
    case ENOSPC: return ioFailure(path, "the disk is full", "make room on it, or write elsewhere");
    case EDQUOT:
        return ioFailure(path, "your share of the disk is used up",
                         "remove files there, or write elsewhere");
    case EFBIG:
        return ioFailure(path, "the file would grow larger than is allowed here",
                         "write elsewhere, or with compression");
    default: break;
    }
    return ioFailure(path, why.empty() ? "could not be written" : why,
                     "check that the folder exists, can be written and has free space");
}
Error ioFailure(const fs::path& path, const std::string& why, const std::string& mend) {
    return {ErrorCode::IoFailure, nameOf(path), why, mend};
}

}  // namespace ledge::io
