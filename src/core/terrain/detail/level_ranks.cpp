#include "core/terrain/detail/level_ranks.h"

#include <algorithm>
#include <cmath>

#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
constexpr std::size_t kBlock = 32;

// Places of a row of heights among evenly spaced levels, exact up to rounding; -1 for no data.
LEDGE_ROW_KERNEL void placeRow(const float* heights, double first, double perLevel, double count,
                               std::int32_t* out, std::size_t size) {
    for (std::size_t c = 0; c < size; ++c) {
        const auto v = static_cast<double>(heights[c]);
        const double place = (v - first) * perLevel + 1;
        const double kept = place > 0 ? (place < count ? place : count) : 0;
        out[c] = v - v == 0 ? static_cast<std::int32_t>(kept) : -1;
    }
}

// Whether any height of a block is so near a level that rounding may put it on the wrong side.
LEDGE_ROW_KERNEL bool nearsLevel(const float* heights, double first, double perLevel,
                                 std::size_t size) {
    std::int32_t any = 0;
    for (std::size_t c = 0; c < size; ++c) {
        const double place = (static_cast<double>(heights[c]) - first) * perLevel;
        const double kept = place > -1e9 ? (place < 1e9 ? place : 1e9) : -1e9;  // NaN too
        const auto whole = static_cast<double>(static_cast<std::int32_t>(kept));
        const double part = kept - whole, away = part < 0 ? -part : part;
        any |= away < 1e-6 || away > 1 - 1e-6 ? 1 : 0;
    }
    return any != 0;
}

// Marks the squares whose corners differ.
LEDGE_ROW_KERNEL void mark(const std::int32_t* upper, const std::int32_t* lower, std::uint8_t* busy,
                           std::size_t size) {
    for (std::size_t c = 0; c < size; ++c) {
        const std::int32_t any =
            (upper[c] ^ lower[c]) | (lower[c] ^ lower[c + 1]) | (upper[c] ^ upper[c + 1]);
        busy[c] = any != 0 ? 1 : 0;
    }
}

}  // namespace

LevelRanks::LevelRanks(const std::vector<double>& levels) : m_levels(levels) {
    const auto gaps = static_cast<double>(levels.size() - 1);
    m_step = levels.size() > 1 ? (levels.back() - levels.front()) / gaps : 1;
    for (std::size_t k = 0; k < levels.size(); ++k)
        if (std::abs(levels[k] - levels.front() - m_step * static_cast<double>(k)) > 1e-6 * m_step)
            m_step = 0;  // listed levels: found by search
}

void LevelRanks::row(std::span<const float> heights, std::span<std::int32_t> out) const {
    if (m_step == 0) return searchRow(heights, out);
    const double first = m_levels.front(), perLevel = 1 / m_step;
    const auto count = static_cast<std::int32_t>(m_levels.size());
    placeRow(heights.data(), first, perLevel, count, out.data(), heights.size());
    for (std::size_t begin = 0; begin < heights.size(); begin += kBlock) {
        const std::size_t end = std::min(begin + kBlock, heights.size());
        if (!nearsLevel(heights.data() + begin, first, perLevel, end - begin)) continue;
        // Near a level rounding may be one off.
        for (std::size_t c = begin; c < end; ++c) {
            const auto v = static_cast<double>(heights[c]);
            std::int32_t k = out[c];
            if (k < 0) continue;
            while (k < count && v >= m_levels[static_cast<std::size_t>(k)]) ++k;
            while (k > 0 && v < m_levels[static_cast<std::size_t>(k - 1)]) --k;
            out[c] = k;
        }
    }
}

void LevelRanks::searchRow(std::span<const float> heights, std::span<std::int32_t> out) const {
    for (std::size_t c = 0; c < heights.size(); ++c) {
        const auto v = static_cast<double>(heights[c]);
        out[c] = std::isfinite(v)
                     ? static_cast<std::int32_t>(
                           std::upper_bound(m_levels.begin(), m_levels.end(), v) - m_levels.begin())
                     : -1;
    }
}

void markBusy(std::span<const std::int32_t> upper, std::span<const std::int32_t> lower,
              std::span<std::uint8_t> busy) {
    mark(upper.data(), lower.data(), busy.data(), upper.size() - 1);
}

}  // namespace ledge::terrain
