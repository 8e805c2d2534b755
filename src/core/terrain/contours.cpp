#include "core/terrain/contours.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <memory>

#include "core/base/numbers.h"
#include "core/terrain/detail/row_kernels.h"

namespace ledge::terrain {
namespace {
constexpr std::size_t kMostLevels = 100'000;

constexpr std::uint32_t kNone = std::numeric_limits<std::uint32_t>::max();

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

// Widens a range by the finite heights of a row.
LEDGE_ROW_KERNEL void rangeOf(const float* heights, std::size_t size, float& least, float& most) {
    float low = least, high = most;
    for (std::size_t c = 0; c < size; ++c) {
        const float v = heights[c];
        const bool isData = v - v == 0;
        low = isData && v < low ? v : low;
        high = isData && v > high ? v : high;
    }
    least = low, most = high;
}

// Marks the squares whose corners differ.
LEDGE_ROW_KERNEL void markBusy(const std::int32_t* upper, const std::int32_t* lower,
                               std::uint8_t* busy, std::size_t size) {
    for (std::size_t c = 0; c < size; ++c) {
        const std::int32_t any =
            (upper[c] ^ lower[c]) | (lower[c] ^ lower[c + 1]) | (upper[c] ^ upper[c + 1]);
        busy[c] = any != 0 ? 1 : 0;
    }
}

// How many levels do not pass a height: the height's place among them, -1 for no data.
class Ranks {
public:
    explicit Ranks(const std::vector<double>& levels) : m_levels(levels) {
        const auto gaps = static_cast<double>(levels.size() - 1);
        m_step = levels.size() > 1 ? (levels.back() - levels.front()) / gaps : 1;
        for (std::size_t k = 0; k < levels.size(); ++k)
            if (std::abs(levels[k] - levels.front() - m_step * static_cast<double>(k)) >
                1e-6 * m_step)
                m_step = 0;  // listed levels: found by search
    }
    void row(std::span<const float> heights, std::span<std::int32_t> out) const {
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

private:
    void searchRow(std::span<const float> heights, std::span<std::int32_t> out) const {
        for (std::size_t c = 0; c < heights.size(); ++c) {
            const auto v = static_cast<double>(heights[c]);
            out[c] =
                std::isfinite(v)
                    ? static_cast<std::int32_t>(
                          std::upper_bound(m_levels.begin(), m_levels.end(), v) - m_levels.begin())
                    : -1;
        }
    }
    const std::vector<double>& m_levels;
    double m_step;
};

// Points of growing lines in pieces of fixed size from a pool, so that lines grow at both ends and
// join without being copied.
class PointPool {
public:
    static constexpr std::uint32_t kSize = 30;
    struct Piece {
        std::uint32_t begin = 0, end = 0;  ///< of the points in use
        std::uint32_t next = kNone;        ///< the piece that follows
        std::array<Point, kSize> points;
    };
    Piece& operator[](std::uint32_t id) { return m_blocks[id >> kShift][id & (kBlockSize - 1)]; }

    std::uint32_t take(std::uint32_t startAt) {
        if (m_free.empty()) {
            const auto first = static_cast<std::uint32_t>(m_blocks.size()) << kShift;
            m_blocks.push_back(std::make_unique<Piece[]>(kBlockSize));
            for (std::uint32_t i = kBlockSize; i-- > 0;) m_free.push_back(first + i);
        }
        const std::uint32_t id = m_free.back();
        m_free.pop_back();
        Piece& piece = (*this)[id];
        piece.begin = piece.end = startAt;
        piece.next = kNone;
        return id;
    }
    void giveBack(std::uint32_t id) { m_free.push_back(id); }

private:
    static constexpr std::uint32_t kShift = 8, kBlockSize = 1 << kShift;
    std::vector<std::unique_ptr<Piece[]>> m_blocks;
    std::vector<std::uint32_t> m_free;
};

// A line while it grows at both ends. Its ends wait at two crossings for the squares beyond.
struct Chain {
    std::uint32_t first = kNone, last = kNone;  ///< pieces
    std::uint32_t head = kNone, tail = kNone;   ///< crossings
    std::uint32_t level = 0;
};

// Lines grow while the squares are passed row by row. Every crossing of a grid edge with a level
// has a number; the levels that cross an edge follow each other, so a crossing is found by its
// edge's first one and its level. Each lies in one or two squares: the first makes it an end of a
// chain, the second goes on from there. Only the crossings of the last two rows are kept.
class Tracer {
public:
    Tracer(BlockView<const float> heights, const Affine& toWorld, const std::vector<double>& levels)
        : m_heights(heights), m_toWorld(toWorld), m_levels(levels), m_ranks(levels),
          m_crossings(1 << 12) {}

    Result<void> run(const Progress& progress) {
        const std::size_t rows = m_heights.rows(), cols = m_heights.cols();
        // One more than the squares, zero, so that eight can be looked at at once.
        std::vector<std::uint8_t> busy(cols + 8, 0);
        std::vector<std::int32_t> upper(cols), lower(cols);
        std::vector<std::uint32_t> top(cols), bottom(cols), side(cols), cells;
        m_ranks.row(m_heights.row(0), upper);
        for (std::size_t c = 0; c + 1 < cols; ++c)
            top[c] = crossings(0, c, 0, c + 1, upper[c], upper[c + 1]);
        for (std::size_t r = 0; r + 1 < rows; ++r) {
            if (progress.stopped()) return cancelled("contours");
            m_ranks.row(m_heights.row(r + 1), lower);
            markBusy(upper.data(), lower.data(), busy.data(), cols - 1);
            cells.clear();
            for (std::size_t c = 0; c < cols - 1; c += 8) {
                std::uint64_t eight;
                std::memcpy(&eight, &busy[c], 8);
                for (; eight != 0; eight &= eight - 1)  // one bit in each marked byte
                    cells.push_back(static_cast<std::uint32_t>(c) +
                                    static_cast<std::uint32_t>(std::countr_zero(eight)) / 8);
            }
            for (const std::uint32_t c : cells) {
                side[c] = crossings(r, c, r + 1, c, upper[c], lower[c]);
                bottom[c] = crossings(r + 1, c, r + 1, c + 1, lower[c], lower[c + 1]);
            }
            side[cols - 1] =
                crossings(r, cols - 1, r + 1, cols - 1, upper[cols - 1], lower[cols - 1]);
            for (const std::uint32_t c : cells) {
                const Corners ranks{upper[c], upper[c + 1], lower[c], lower[c + 1]};
                if ((ranks.nw | ranks.ne | ranks.sw | ranks.se) < 0) continue;
                square(r, c, ranks, top[c], bottom[c], side[c], side[c + 1]);
            }
            std::swap(upper, lower);
            std::swap(top, bottom);
            if (m_count >= kNone - 4 * cols * m_levels.size())
                return Error{ErrorCode::LimitExceeded, "contours",
                             "more than 4000 million vertices", "choose a larger interval"};
            m_rowStarts = {m_rowStarts[1], m_count};
            progress.at(0.9 * static_cast<double>(r) / static_cast<double>(rows));
        }
        return {};
    }

    std::vector<Contour> lines() {
        for (Chain& chain : m_chains)
            if (chain.first != kNone) finish(chain, false);
        std::stable_sort(m_done.begin(), m_done.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<Contour> out;
        out.reserve(m_done.size());
        for (auto& [level, line] : m_done) out.push_back(std::move(line));
        return out;
    }

private:
    struct Corners {
        std::int32_t nw, ne, sw, se;
    };
    struct Crossing {
        Point at;
        std::uint32_t chain = kNone;  ///< that ends here
        std::uint32_t level = 0;
    };

    Crossing& crossing(std::uint32_t id) { return m_crossings[id & (m_crossings.size() - 1)]; }

    // Room for some more behind the oldest crossing still needed.
    void makeRoom(std::uint32_t count) {
        const std::uint32_t needed = m_count + count - m_rowStarts[0];
        if (needed <= m_crossings.size()) return;
        std::vector<Crossing> larger(std::bit_ceil(static_cast<std::size_t>(needed) + 1));
        for (std::uint32_t id = m_rowStarts[0]; id < m_count; ++id)
            larger[id & (larger.size() - 1)] = crossing(id);
        m_crossings = std::move(larger);
    }

    // Makes the crossings of the edge between two centres; returns the number of the first.
    [[gnu::always_inline]] std::uint32_t crossings(std::size_t r0, std::size_t c0, std::size_t r1,
                                                   std::size_t c1, std::int32_t from,
                                                   std::int32_t to) {
        const std::uint32_t first = m_count;
        if (from == to || (from | to) < 0) return first;
        const std::int32_t low = std::min(from, to), high = std::max(from, to);
        makeRoom(static_cast<std::uint32_t>(high - low));
        const auto a = static_cast<double>(m_heights(r0, c0));
        const double perHeight = 1 / (static_cast<double>(m_heights(r1, c1)) - a);
        const auto row = static_cast<double>(r0) + 0.5, col = static_cast<double>(c0) + 0.5;
        const Point start = m_toWorld({col, row});
        const Point step =
            r1 != r0 ? Point{m_toWorld.b, m_toWorld.e} : Point{m_toWorld.a, m_toWorld.d};
        for (std::int32_t k = low; k < high; ++k) {
            const double t = (m_levels[static_cast<std::size_t>(k)] - a) * perHeight;
            crossing(m_count++) = {start + step * t, kNone, static_cast<std::uint32_t>(k)};
        }
        return first;
    }

    void append(Chain& chain, Point p) {
        PointPool::Piece* piece = &m_pool[chain.last];
        // Where a level meets a corner two crossings fall together: one point.
        if (piece->points[piece->end - 1] == p) return;
        if (piece->end == PointPool::kSize) {
            const std::uint32_t id = m_pool.take(0);
            m_pool[chain.last].next = id;
            chain.last = id;
            piece = &m_pool[id];
        }
        piece->points[piece->end++] = p;
    }
    void prepend(Chain& chain, Point p) {
        PointPool::Piece* piece = &m_pool[chain.first];
        if (piece->points[piece->begin] == p) return;
        if (piece->begin == 0) {
            const std::uint32_t id = m_pool.take(PointPool::kSize);
            m_pool[id].next = chain.first;
            chain.first = id;
            piece = &m_pool[id];
        }
        piece->points[--piece->begin] = p;
    }

    void link(std::uint32_t from, std::uint32_t to) {
        Crossing& a = crossing(from);
        Crossing& b = crossing(to);
        if (a.chain == kNone && b.chain == kNone) {
            const std::uint32_t id = newChain(a.level);
            Chain& chain = m_chains[id];
            chain.first = chain.last = m_pool.take(PointPool::kSize / 2);
            PointPool::Piece& piece = m_pool[chain.first];
            piece.points[piece.end++] = a.at;
            append(chain, b.at);
            chain.head = from, chain.tail = to;
            a.chain = b.chain = id;
        } else if (b.chain == kNone) {
            Chain& chain = m_chains[a.chain];
            append(chain, b.at);
            chain.tail = to;
            b.chain = a.chain;
        } else if (a.chain == kNone) {
            Chain& chain = m_chains[b.chain];
            prepend(chain, a.at);
            chain.head = from;
            a.chain = b.chain;
        } else if (a.chain == b.chain) {
            finish(m_chains[a.chain], true);
            m_free.push_back(a.chain);
        } else {
            join(a.chain, b.chain);
        }
    }

    // One chain after another.
    void join(std::uint32_t one, std::uint32_t other) {
        Chain& a = m_chains[one];
        Chain& b = m_chains[other];
        PointPool::Piece& seam = m_pool[b.first];
        if (m_pool[a.last].points[m_pool[a.last].end - 1] == seam.points[seam.begin])
            ++seam.begin;  // may leave the piece empty
        m_pool[a.last].next = b.first;
        a.last = b.last;
        if (m_pool[a.last].begin == m_pool[a.last].end) trimEnd(a);
        a.tail = b.tail;
        // An end that waits at the rim of the data is gone from the crossings kept.
        if (a.tail >= m_rowStarts[0]) crossing(a.tail).chain = one;
        b.first = kNone;
        m_free.push_back(other);
    }

    // Drops an empty last piece.
    void trimEnd(Chain& chain) {
        std::uint32_t before = chain.first;
        while (m_pool[before].next != chain.last) before = m_pool[before].next;
        m_pool.giveBack(chain.last);
        m_pool[before].next = kNone;
        chain.last = before;
    }

    std::uint32_t newChain(std::uint32_t level) {
        std::uint32_t id;
        if (m_free.empty()) {
            id = static_cast<std::uint32_t>(m_chains.size());
            m_chains.emplace_back();
        } else {
            id = m_free.back();
            m_free.pop_back();
        }
        m_chains[id].level = level;
        return id;
    }

    void finish(Chain& chain, bool isRing) {
        std::size_t count = isRing ? 1 : 0;
        for (std::uint32_t id = chain.first; id != kNone; id = m_pool[id].next) {
            const PointPool::Piece& piece = m_pool[id];
            count += piece.end - piece.begin;
            // They were written long ago; fetched side by side they arrive sooner.
            for (std::size_t line = 0; line < sizeof piece.points; line += 64)
                __builtin_prefetch(reinterpret_cast<const char*>(&piece.points) + line);
        }
        Contour line{m_levels[chain.level], {}};
        line.points.reserve(count);
        for (std::uint32_t id = chain.first; id != kNone;) {
            const PointPool::Piece& piece = m_pool[id];
            line.points.insert(line.points.end(), piece.points.begin() + piece.begin,
                               piece.points.begin() + piece.end);
            const std::uint32_t next = piece.next;
            m_pool.giveBack(id);
            id = next;
        }
        if (isRing && line.points.front() != line.points.back())
            line.points.push_back(line.points.front());
        if (line.points.size() > 1) m_done.emplace_back(chain.level, std::move(line));
        chain.first = kNone;
    }

    // Links the crossings around one square, level by level, high ground on the left with rows
    // going south.
    void square(std::size_t r, std::size_t c, Corners rank, std::uint32_t topFirst,
                std::uint32_t bottomFirst, std::uint32_t leftFirst, std::uint32_t rightFirst) {
        const std::int32_t low = std::min(std::min(rank.nw, rank.ne), std::min(rank.sw, rank.se));
        const std::int32_t high = std::max(std::max(rank.nw, rank.ne), std::max(rank.sw, rank.se));
        const auto idOf = [](std::uint32_t first, std::int32_t a, std::int32_t b) {
            return first - static_cast<std::uint32_t>(std::min(a, b));
        };
        const std::uint32_t t = idOf(topFirst, rank.nw, rank.ne);
        const std::uint32_t b = idOf(bottomFirst, rank.sw, rank.se);
        const std::uint32_t l = idOf(leftFirst, rank.nw, rank.sw);
        const std::uint32_t e = idOf(rightFirst, rank.ne, rank.se);
        for (std::int32_t k = low; k < high; ++k) {
            const int kind = (rank.nw > k ? 8 : 0) | (rank.ne > k ? 4 : 0) | (rank.se > k ? 2 : 0) |
                             (rank.sw > k ? 1 : 0);
            const auto n = static_cast<std::uint32_t>(k);
            const std::uint32_t top = t + n, bottom = b + n, left = l + n, right = e + n;
            switch (kind) {
            case 1: link(bottom, left); break;
            case 2: link(right, bottom); break;
            case 3: link(right, left); break;
            case 4: link(top, right); break;
            case 6: link(top, bottom); break;
            case 7: link(top, left); break;
            case 8: link(left, top); break;
            case 9: link(bottom, top); break;
            case 11: link(right, top); break;
            case 12: link(left, right); break;
            case 13: link(bottom, right); break;
            case 14: link(left, bottom); break;
            case 5:
            case 10: {
                const double mean = (static_cast<double>(m_heights(r, c)) +
                                     static_cast<double>(m_heights(r, c + 1)) +
                                     static_cast<double>(m_heights(r + 1, c)) +
                                     static_cast<double>(m_heights(r + 1, c + 1))) /
                                    4;
                const bool highTogether = mean >= m_levels[n];
                if (kind == 5) {  // ne and sw high
                    link(top, highTogether ? left : right);
                    link(bottom, highTogether ? right : left);
                } else {  // nw and se high
                    link(right, highTogether ? top : bottom);
                    link(left, highTogether ? bottom : top);
                }
                break;
            }
            default: break;
            }
        }
    }

    BlockView<const float> m_heights;
    Affine m_toWorld;
    const std::vector<double>& m_levels;
    Ranks m_ranks;
    std::vector<Crossing> m_crossings;               ///< a ring; its size is a power of two
    std::uint32_t m_count = 0;                       ///< crossings made
    std::array<std::uint32_t, 2> m_rowStarts{0, 0};  ///< first crossings of the last two rows
    PointPool m_pool;
    std::vector<Chain> m_chains;
    std::vector<std::uint32_t> m_free;
    std::vector<std::pair<std::uint32_t, Contour>> m_done;
};
}  // namespace

std::vector<double> ContourLevels::within(double low, double high) const {
    std::vector<double> out;
    if (!listed.empty()) {
        for (const double level : listed)
            if (level >= low && level <= high) out.push_back(level);
        std::sort(out.begin(), out.end());
        out.erase(std::unique(out.begin(), out.end()), out.end());
        return out;
    }
    if (!(interval > 0) || !std::isfinite(low) || !std::isfinite(high)) return out;
    for (double k = std::ceil((low - base) / interval);
         base + k * interval <= high && out.size() < kMostLevels; ++k)
        out.push_back(base + k * interval);
    return out;
}

bool ContourLevels::isIndex(double level, int nth) const {
    if (nth <= 0 || !listed.empty() || !(interval > 0)) return false;
    return std::llround((level - base) / interval) % nth == 0;
}

Result<std::vector<Contour>> contours(BlockView<const float> heights, const Affine& toWorld,
                                      const ContourLevels& wanted, const Progress& progress) {
    if (wanted.listed.empty() && !(wanted.interval > 0 && std::isfinite(wanted.interval)))
        return Error{ErrorCode::InvalidArgument, "contours", "the interval must be positive", ""};
    float least = std::numeric_limits<float>::infinity(), most = -least;
    for (std::size_t r = 0; r < heights.rows(); ++r)
        rangeOf(heights.row(r).data(), heights.cols(), least, most);
    const auto low = static_cast<double>(least), high = static_cast<double>(most);
    const std::vector<double> levels = wanted.within(low, high);
    if (levels.size() >= kMostLevels)
        return Error{ErrorCode::LimitExceeded, "contours",
                     "the interval gives more than 100 000 levels", "choose a larger interval"};
    if (levels.empty() || heights.rows() < 2 || heights.cols() < 2) return std::vector<Contour>{};
    Tracer tracer(heights, toWorld, levels);
    if (const auto done = tracer.run(progress); !done) return done.error();
    return tracer.lines();
}

double suggestedInterval(std::vector<float> tangents, double scaleDenominator) {
    std::erase_if(tangents, [](float t) { return !std::isfinite(t); });
    double steep = 0.2;
    if (!tangents.empty()) {
        const auto at = tangents.begin() +
                        static_cast<std::ptrdiff_t>(static_cast<double>(tangents.size() - 1) * 0.9);
        std::nth_element(tangents.begin(), at, tangents.end());
        steep = std::max(0.001, static_cast<double>(*at));
    }
    const double groundMetres = 0.0005 * scaleDenominator;
    return roundUpToInterval(std::max(1e-6, groundMetres * steep * (1 - 1e-6)));  // float tangents
}

}  // namespace ledge::terrain
