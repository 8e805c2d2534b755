#include "core/terrain/contour_sweep.h"

#include <bit>
#include <cstring>

#include "core/terrain/detail/level_ranks.h"
#include "core/terrain/detail/line_pool.h"

namespace ledge::terrain {
namespace {
// Where a level crosses a grid edge: until its second square was met, the end of a line.
using Crossing = LinePool::End;

// The crossings of the edges of one row, those of an edge one after the other by level.
class EdgeRow {
public:
    Crossing& operator[](std::uint32_t i) { return m_crossings[i]; }
    std::uint32_t count() const { return m_count; }
    void clear() { m_count = 0; }
    // Room for some more; returns the first.
    std::uint32_t add(std::uint32_t count) {
        const std::uint32_t first = m_count;
        m_count += count;
        if (m_count > m_crossings.size())
            m_crossings.resize(std::max<std::size_t>(m_count, 2 * m_crossings.size() + 256));
        return first;
    }

private:
    std::vector<Crossing> m_crossings;
    std::uint32_t m_count = 0;
};
}  // namespace

class ContourSweep::Work {
public:
    Work(std::size_t cols, const Affine& toWorld, std::vector<double> levels)
        : m_cols(cols), m_toWorld(toWorld), m_levels(std::move(levels)), m_ranks(m_levels),
          m_busy(cols + 8, 0), m_upperRanks(cols), m_lowerRanks(cols), m_upper(cols), m_lower(cols),
          m_topFirst(cols), m_bottomFirst(cols), m_sideFirst(cols) {}

    Result<void> add(std::span<const float> heights) {
        std::copy(heights.begin(), heights.end(), m_lower.begin());
        m_ranks.row(m_lower, m_lowerRanks);
        if (m_row == 0) {
            for (std::size_t c = 0; c + 1 < m_cols; ++c)
                m_bottomFirst[c] = horizontal(m_bottom, m_row, c);
        } else {
            sweepRow();
        }
        std::swap(m_upperRanks, m_lowerRanks);
        std::swap(m_upper, m_lower);
        std::swap(m_topFirst, m_bottomFirst);
        std::swap(m_top, m_bottom);
        ++m_row;
        if (m_lines.roughCount() < kMostVertices) return {};
        return Error{ErrorCode::LimitExceeded, "contours", "more than 2000 million vertices",
                     "choose a larger interval"};
    }

    std::vector<Contour> finish() {
        std::vector<Contour> out;
        for (LinePool::Done& line : m_lines.take())
            out.push_back({m_levels[line.level], std::move(line.points)});
        return out;
    }

private:
    static constexpr std::uint64_t kMostVertices = std::uint64_t{1} << 31;
    struct Corners {
        std::int32_t nw, ne, sw, se;
    };

    // Squares between the row before, whose edges are the tops, and this one.
    void sweepRow() {
        markBusy(m_upperRanks, m_lowerRanks, m_busy);
        m_cells.clear();
        for (std::size_t c = 0; c < m_cols - 1; c += 8) {
            std::uint64_t eight;
            std::memcpy(&eight, &m_busy[c], 8);
            for (; eight != 0; eight &= eight - 1)  // one bit in each marked byte
                m_cells.push_back(static_cast<std::uint32_t>(c) +
                                  static_cast<std::uint32_t>(std::countr_zero(eight)) / 8);
        }
        m_bottom.clear();
        m_sides.clear();
        // Neighbours share a side: it is made once, by the first of them.
        std::uint32_t made = Crossing::kFree;
        for (const std::uint32_t c : m_cells) {
            if (made != c) m_sideFirst[c] = vertical(c);
            m_sideFirst[c + 1] = vertical(c + 1);
            made = c + 1;
            m_bottomFirst[c] = horizontal(m_bottom, m_row, c);
            const Corners ranks{m_upperRanks[c], m_upperRanks[c + 1], m_lowerRanks[c],
                                m_lowerRanks[c + 1]};
            if ((ranks.nw | ranks.ne | ranks.sw | ranks.se) >= 0) square(c, ranks);
        }
    }

    std::uint32_t horizontal(EdgeRow& edges, std::size_t row, std::size_t c) {
        const Point step{m_toWorld.a, m_toWorld.d};
        return crossings(edges, row, c, step, m_lower[c], m_lower[c + 1], m_lowerRanks[c],
                         m_lowerRanks[c + 1]);
    }
    std::uint32_t vertical(std::size_t c) {
        const Point step{m_toWorld.b, m_toWorld.e};
        return crossings(m_sides, m_row - 1, c, step, m_upper[c], m_lower[c], m_upperRanks[c],
                         m_lowerRanks[c]);
    }

    // Makes the crossings of the edge between two centres; returns the first.
    [[gnu::always_inline]] std::uint32_t crossings(EdgeRow& edges, std::size_t row, std::size_t col,
                                                   Point step, float from, float to,
                                                   std::int32_t fromRank, std::int32_t toRank) {
        if (fromRank == toRank || (fromRank | toRank) < 0) return edges.count();
        const std::int32_t low = std::min(fromRank, toRank), high = std::max(fromRank, toRank);
        const std::uint32_t first = edges.add(static_cast<std::uint32_t>(high - low));
        const auto a = static_cast<double>(from);
        const double perHeight = 1 / (static_cast<double>(to) - a);
        const Point start =
            m_toWorld({static_cast<double>(col) + 0.5, static_cast<double>(row) + 0.5});
        Crossing* at = &edges[first];
        for (std::int32_t k = low; k < high; ++k) {
            const double t = (m_levels[static_cast<std::size_t>(k)] - a) * perHeight;
            *at++ = {start + step * t};
        }
        return first;
    }

    // A line passes from one crossing to another, high ground on its left.
    [[gnu::always_inline]] void link(Crossing& from, Crossing& to, std::int32_t level) {
        if (to.isFree() && !from.isFree())
            m_lines.append(from, to);
        else if (from.isFree() && !to.isFree())
            m_lines.prepend(to, from);
        else if (from.isFree())
            m_lines.begin(from, to, static_cast<std::uint32_t>(level));
        else
            m_lines.join(from, to);
    }

    // Links the crossings around one square, level by level, high ground on the left with rows
    // going south.
    void square(std::size_t c, Corners rank) {
        const std::int32_t low = std::min(std::min(rank.nw, rank.ne), std::min(rank.sw, rank.se));
        const std::int32_t high = std::max(std::max(rank.nw, rank.ne), std::max(rank.sw, rank.se));
        const auto idOf = [](std::uint32_t first, std::int32_t a, std::int32_t b) {
            return first - static_cast<std::uint32_t>(std::min(a, b));
        };
        const std::uint32_t t = idOf(m_topFirst[c], rank.nw, rank.ne);
        const std::uint32_t b = idOf(m_bottomFirst[c], rank.sw, rank.se);
        const std::uint32_t l = idOf(m_sideFirst[c], rank.nw, rank.sw);
        const std::uint32_t e = idOf(m_sideFirst[c + 1], rank.ne, rank.se);
        for (std::int32_t k = low; k < high; ++k) {
            const int kind = (rank.nw > k ? 8 : 0) | (rank.ne > k ? 4 : 0) | (rank.se > k ? 2 : 0) |
                             (rank.sw > k ? 1 : 0);
            const auto n = static_cast<std::uint32_t>(k);
            const auto top = [&]() -> Crossing& { return m_top[t + n]; };
            const auto bottom = [&]() -> Crossing& { return m_bottom[b + n]; };
            const auto left = [&]() -> Crossing& { return m_sides[l + n]; };
            const auto right = [&]() -> Crossing& { return m_sides[e + n]; };
            switch (kind) {
            case 1: link(bottom(), left(), k); break;
            case 2: link(right(), bottom(), k); break;
            case 3: link(right(), left(), k); break;
            case 4: link(top(), right(), k); break;
            case 6: link(top(), bottom(), k); break;
            case 7: link(top(), left(), k); break;
            case 8: link(left(), top(), k); break;
            case 9: link(bottom(), top(), k); break;
            case 11: link(right(), top(), k); break;
            case 12: link(left(), right(), k); break;
            case 13: link(bottom(), right(), k); break;
            case 14: link(left(), bottom(), k); break;
            case 5:
            case 10: {
                const double mean =
                    (static_cast<double>(m_upper[c]) + static_cast<double>(m_upper[c + 1]) +
                     static_cast<double>(m_lower[c]) + static_cast<double>(m_lower[c + 1])) /
                    4;
                const bool highTogether = mean >= m_levels[n];
                if (kind == 5) {  // ne and sw high
                    link(top(), highTogether ? left() : right(), k);
                    link(bottom(), highTogether ? right() : left(), k);
                } else {  // nw and se high
                    link(right(), highTogether ? top() : bottom(), k);
                    link(left(), highTogether ? bottom() : top(), k);
                }
                break;
            }
            default: break;
            }
        }
    }

    std::size_t m_cols, m_row = 0;
    Affine m_toWorld;
    std::vector<double> m_levels;
    LevelRanks m_ranks;
    std::vector<std::uint8_t> m_busy;  // longer than the squares, so that eight are read at once
    std::vector<std::int32_t> m_upperRanks, m_lowerRanks;
    std::vector<float> m_upper, m_lower;
    EdgeRow m_top, m_bottom, m_sides;
    std::vector<std::uint32_t> m_topFirst, m_bottomFirst, m_sideFirst, m_cells;
    LinePool m_lines;
};

ContourSweep::ContourSweep(std::size_t cols, const Affine& toWorld, std::vector<double> levels)
    : m_work(std::make_unique<Work>(cols, toWorld, std::move(levels))) {}

ContourSweep::~ContourSweep() = default;

Result<void> ContourSweep::add(std::span<const float> heights) { return m_work->add(heights); }

std::vector<Contour> ContourSweep::finish() { return m_work->finish(); }

}  // namespace ledge::terrain
