#pragma once
#include <filesystem>
#include <memory>
#include <string>
#include <utility>
#include <vector>

#include "core/base/result.h"

struct zip;

namespace ledge::io {

/// Reads the files of a ZIP archive. What they hold is bounded, whatever the archive says of it.
class ZipReader {
public:
    /// Errors: BadFormat.
    static Result<std::unique_ptr<ZipReader>> open(const std::filesystem::path& path);
    ~ZipReader();
    ZipReader(const ZipReader&) = delete;
    ZipReader& operator=(const ZipReader&) = delete;

    /// Of its files, in their order; folders left out.
    const std::vector<std::string>& names() const { return m_names; }
    /// What a file holds. Errors: NotFound; BadFormat where it is damaged or encrypted;
    /// LimitExceeded.
    Result<std::string> text(const std::string& name) const;

private:
    ZipReader(std::filesystem::path path, zip* archive);
    std::filesystem::path m_path;
    zip* m_archive;
    std::vector<std::string> m_names;
};

/// Writes an archive of texts into a file. Errors: IoFailure.
Result<void> writeZip(const std::filesystem::path& into,
                      const std::vector<std::pair<std::string, std::string>>& texts,
                      const std::filesystem::path& named);

}  // namespace ledge::io
