#pragma once
#include <sys/types.h>

#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <utility>

namespace ledge::io {

/// A file on which a database of this program may hold locks, for as long as this lives. By POSIX
/// a process loses all its locks on a file as soon as it closes any handle of it, whichever that
/// was: so those made here stay open until nobody holds the file any more.
class HeldLocks {
public:
    explicit HeldLocks(const std::filesystem::path& path);
    ~HeldLocks();
    HeldLocks(HeldLocks&& other) noexcept : m_file(std::exchange(other.m_file, {})) {}
    HeldLocks& operator=(HeldLocks&& other) noexcept {
        std::swap(m_file, other.m_file);
        return *this;
    }

    using File = std::pair<dev_t, ino_t>;

private:
    File m_file{};  // of no file: 0
};

/// At most so many bytes from where a file begins; nothing where it cannot be opened. No lock on it
/// is lost.
std::optional<std::string> readBeginning(const std::filesystem::path& path, std::size_t most);

/// A handle for hints on a file of which locks are held, open for as long as they are; nothing
/// where there is no such file there now.
std::optional<int> heldHandle(const std::filesystem::path& path);

}  // namespace ledge::io
