#include "io/files/reading_limit.h"

#include <algorithm>
#include <atomic>

#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
constexpr std::uint64_t kTimesTheFile = 64;
std::atomic<std::uint64_t> g_alwaysFine{256u << 20};
}  // namespace

void ReadingLimit::setAlwaysFine(std::uint64_t bytes) { g_alwaysFine = bytes; }

ReadingLimit::ReadingLimit(const std::filesystem::path& whole) : m_path(whole) {
    std::error_code code;
    const auto size = std::filesystem::file_size(whole, code);
    m_most = std::max<std::uint64_t>(g_alwaysFine, code ? 0 : kTimesTheFile * size);
}

Result<void> ReadingLimit::take(std::uint64_t bytes, const std::string& layer) {
    m_taken += bytes;
    if (m_taken <= m_most) return {};
    return Error{
        ErrorCode::LimitExceeded, nameOf(m_path),
        "layer \"" + layer + "\" needs more than " + std::to_string(m_most >> 20) +
            " MB, far more than its file holds",
        "if that is meant, allow the command more (--memory MEGABYTES), or read fewer columns"};
}

}  // namespace ledge::io
