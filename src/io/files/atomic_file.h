#pragma once
#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ledge::io {

/// A file that appears under its name only when complete: written beside it under another name,
/// flushed, then renamed, and the folder flushed. A link is followed to what it names; permissions
/// and owner of what is replaced are kept. Without commit() nothing is left behind; what a killed
/// process left in the folder is taken away when the next file is written there.
class AtomicFile {
public:
    explicit AtomicFile(std::filesystem::path target);
    ~AtomicFile();
    AtomicFile(const AtomicFile&) = delete;
    AtomicFile& operator=(const AtomicFile&) = delete;

    /// Takes away whatever is unfinished in this process, which is about to end without more ado.
    static void abandonAll();

    /// An empty file to write into; absent where the folder cannot be written.
    const std::filesystem::path& temporary() const { return m_temporary; }
    const std::filesystem::path& target() const { return m_target; }
    /// Where it will stand: the target, or what that links to.
    const std::filesystem::path& place() const { return m_place; }
    /// Flushes to the disk and gives it the permissions of what it replaces. Errors: IoFailure.
    Result<void> settle();
    /// Settles and renames. Errors: IoFailure.
    Result<void> commit();
    /// The same where there must be no file yet; whether there was none.
    Result<bool> commitNew();

private:
    friend class FileSet;
    void forget() { m_isDone = true; }

    std::filesystem::path m_target, m_place, m_temporary;
    int m_handle = -1;  ///< holds the lock that tells others that its writer lives
    bool m_isDone = false;
};

/// Replaces or creates a file with this text, atomically.
Result<void> writeText(const std::filesystem::path& path, std::string_view text);
/// Writes a text into a file as it stands, such as a temporary one. Errors: IoFailure.
Result<void> fillFile(const std::filesystem::path& path, std::string_view text,
                      const std::filesystem::path& named);
/// A whole file of at most `limit` bytes.
Result<std::string> readText(const std::filesystem::path& path,
                             std::uintmax_t limit = 512u * 1024 * 1024);

/// For messages: the file name in quotes-free form.
std::string nameOf(const std::filesystem::path& path);
Error badFormat(const std::filesystem::path& path, const std::string& why,
                const std::string& mend = "the file is damaged; get a fresh copy");
/// A write that failed just now: the system's reason when it is a full disk, a used-up quota or a
/// file grown too large, else `why`. The disk is asked too, where a library in between has
/// forgotten the reason.
Error writeFailure(const std::filesystem::path& path, const std::string& why);
Error ioFailure(const std::filesystem::path& path, const std::string& why,
                const std::string& mend = "");

}  // namespace ledge::io
