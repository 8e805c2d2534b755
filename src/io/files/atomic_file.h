#pragma once
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ledge::io {

/// A file that appears under its name only when complete: written beside it under another name,
/// then renamed. Without commit() nothing is left behind.
class AtomicFile {
public:
    explicit AtomicFile(std::filesystem::path target);
    ~AtomicFile();
    AtomicFile(const AtomicFile&) = delete;
    AtomicFile& operator=(const AtomicFile&) = delete;

    const std::filesystem::path& temporary() const { return m_temporary; }
    const std::filesystem::path& target() const { return m_target; }
    /// Flushes to the disk and renames. Errors: IoFailure.
    Result<void> commit();

private:
    std::filesystem::path m_target, m_temporary;
    bool m_done = false;
};

/// Replaces or creates a file with this text, atomically.
Result<void> writeText(const std::filesystem::path& path, std::string_view text);
/// A whole file of at most `limit` bytes.
Result<std::string> readText(const std::filesystem::path& path,
                             std::uintmax_t limit = 512u * 1024 * 1024);

/// For messages: the file name in quotes-free form.
std::string nameOf(const std::filesystem::path& path);
Error badFormat(const std::filesystem::path& path, const std::string& why,
                const std::string& mend = "the file is damaged; get a fresh copy");
/// A write that failed just now: the system's reason when it is a full disk, a used-up quota or a
/// file grown too large, else `why`.
Error writeFailure(const std::filesystem::path& path, const std::string& why);
Error ioFailure(const std::filesystem::path& path, const std::string& why,
                const std::string& mend = "");

}  // namespace ledge::io
