#pragma once
#include <cstdint>
#include <filesystem>
#include <string>

#include "core/base/result.h"

namespace ledge::io {

/// What a layer may take in memory: files hold at most some dozen times less than what is in them;
/// one that gives more (a view that multiplies rows, a damaged count) is stopped in time.
class ReadingLimit {
public:
    /// `whole`: the file that is read.
    explicit ReadingLimit(const std::filesystem::path& whole);
    /// Counts bytes of what was read. Errors: LimitExceeded with how it is raised.
    Result<void> take(std::uint64_t bytes, const std::string& layer);

    /// Bytes that any layer may take, however small its file; 256 MB at first.
    static void setAlwaysFine(std::uint64_t bytes);

private:
    std::filesystem::path m_path;
    std::uint64_t m_most, m_taken = 0;
};

}  // namespace ledge::io
