#include "core/terrain/contours.h"

#include <sys/mman.h>

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <new>

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

// Where a level crosses a grid edge, and the crossing that follows with high ground on the left.
struct Crossing {
    Point at;
    std::uint32_t next = kNone;
    std::uint32_t level : 31 = 0;
    std::uint32_t isEntered : 1 = 0;  ///< some crossing leads here
};

// All crossings in the order they are met, one after the other in memory of its own that grows
// without being copied. In large pages, since lines lead all over it and address translation would
// take longer than the reading.
class Crossings {
public:
    Crossings() = default;
    ~Crossings() {
        if (m_first) ::munmap(m_first, bytes(m_room));
    }
    Crossings(const Crossings&) = delete;
    Crossings& operator=(const Crossings&) = delete;

    Crossing& operator[](std::uint32_t id) { return m_first[id]; }
    std::uint32_t count() const { return m_count; }
    // Room for some more; returns the number of the first.
    std::uint32_t add(std::uint32_t count) {
        const std::uint32_t first = m_count;
        m_count += count;
        if (m_count > m_room) grow();
        return first;
    }

private:
    static std::size_t bytes(std::uint64_t count) { return count * sizeof(Crossing); }
    void grow() {
        std::uint64_t room = std::max<std::uint64_t>(m_room, 1u << 18);
        while (room < m_count) room *= 2;
        void* const memory = m_first ? ::mremap(m_first, bytes(m_room), bytes(room), MREMAP_MAYMOVE)
                                     : ::mmap(nullptr, bytes(room), PROT_READ | PROT_WRITE,
                                              MAP_PRIVATE | MAP_ANONYMOUS, -1, 0);
        if (memory == MAP_FAILED) throw std::bad_alloc();
        ::madvise(memory, bytes(room), MADV_HUGEPAGE);
        m_first = static_cast<Crossing*>(memory);
        m_room = room;
    }

    Crossing* m_first = nullptr;
    std::uint64_t m_room = 0;
    std::uint32_t m_count = 0;
};

// Walks along the crossings. Several walks go on in turn, so that each can wait for memory while
// the others move. Walks on one ring may meet: each then ends where another began.
class Walker {
public:
    explicit Walker(Crossings& crossings) : m_crossings(crossings) {}

    Result<std::vector<std::pair<std::uint32_t, std::vector<Point>>>>
    run(const Progress& progress) {
        // Lines that end at the rim of the data first, from their first crossing; then rings.
        for (const bool isRings : {false, true})
            if (const auto done = walkAll(isRings, progress); !done) return done.error();
        return joined();
    }

private:
    static constexpr std::size_t kWalks = 24;
    static constexpr std::uint32_t kVisited = kNone - 1;
    struct Part {
        std::uint32_t start = kNone, level = 0;
        std::uint32_t next = kNone;  ///< start of the part that follows
        std::vector<Point> points;
        bool isTaken = false;
    };
    struct Walk {
        std::uint32_t at = kNone, start = kNone;
        bool isDone = false;  ///< no line is left for it
        std::vector<Point> points;
    };

    Result<void> walkAll(bool isRings, const Progress& progress) {
        std::array<Walk, kWalks> walks;
        std::uint32_t scan = 0;
        std::size_t busy = kWalks;
        for (std::size_t step = 0; busy > 0; ++step) {
            if (step % 4096 == 0 && progress.stopped()) return cancelled("contours");
            for (Walk& walk : walks) {
                if (walk.at != kNone) {
                    move(walk);
                } else if (!walk.isDone) {
                    walk.start = walk.at = nextStart(scan, isRings);
                    walk.isDone = walk.at == kNone;
                    if (walk.isDone) --busy;
                }
            }
        }
        return {};
    }

    std::uint32_t nextStart(std::uint32_t& scan, bool isRings) {
        for (; scan < m_crossings.count(); ++scan) {
            const Crossing& c = m_crossings[scan];
            if (c.next < kVisited && (isRings || c.isEntered == 0)) return scan++;
        }
        return kNone;
    }

    void move(Walk& walk) {
        Crossing& c = m_crossings[walk.at];
        if (c.next == kVisited) {
            if (!walk.points.empty()) return end(walk, walk.at);
            walk.at = kNone;  // another walk came by before this one had begun
            return;
        }
        // Where a level meets a corner two crossings fall together: one point.
        if (walk.points.empty() || !(walk.points.back() == c.at)) walk.points.push_back(c.at);
        const std::uint32_t next = c.next;
        c.next = kVisited;
        if (next == kNone) return end(walk, kNone);
        walk.at = next;
        const auto* const line = reinterpret_cast<const char*>(&m_crossings[next]);
        __builtin_prefetch(line, 1);
        __builtin_prefetch(line + sizeof(Crossing) - 1, 1);
    }

    void end(Walk& walk, std::uint32_t next) {
        m_parts.push_back({walk.start,
                           m_crossings[walk.start].level,
                           next,
                           {walk.points.begin(), walk.points.end()},
                           false});
        walk.points.clear();
        walk.at = kNone;
    }

    // Puts parts that follow each other together, in the order of their first crossings.
    std::vector<std::pair<std::uint32_t, std::vector<Point>>> joined() {
        std::sort(m_parts.begin(), m_parts.end(),
                  [](const Part& a, const Part& b) { return a.start < b.start; });
        const auto partAt = [&](std::uint32_t start) -> Part& {
            return *std::lower_bound(
                m_parts.begin(), m_parts.end(), start,
                [](const Part& p, std::uint32_t wanted) { return p.start < wanted; });
        };
        std::vector<std::pair<std::uint32_t, std::vector<Point>>> out;
        for (Part& part : m_parts) {
            if (part.isTaken) continue;
            part.isTaken = true;
            const std::uint32_t first = part.start;
            std::vector<Point> line = std::move(part.points);
            std::uint32_t next = part.next;
            while (next != kNone && next != first) {
                Part& more = partAt(next);
                const std::size_t skip = more.points.front() == line.back() ? 1 : 0;
                line.insert(line.end(), more.points.begin() + static_cast<std::ptrdiff_t>(skip),
                            more.points.end());
                more.isTaken = true;
                next = more.next;
            }
            if (next == first && line.front() != line.back()) line.push_back(line.front());
            if (line.size() > 1) out.emplace_back(part.level, std::move(line));
        }
        return out;
    }

    Crossings& m_crossings;
    std::vector<Part> m_parts;
};

// Makes the crossings of grid edges with levels row by row and links them square by square. Those
// of one edge follow each other, so a crossing is found by its edge's first one and its level.
class Tracer {
public:
    Tracer(BlockView<const float> heights, const Affine& toWorld, const std::vector<double>& levels)
        : m_heights(heights), m_toWorld(toWorld), m_levels(levels), m_ranks(levels) {}

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
            if (m_crossings.count() >= kMostCrossings - 4 * cols * m_levels.size())
                return Error{ErrorCode::LimitExceeded, "contours",
                             "more than 2000 million vertices", "choose a larger interval"};
            progress.at(0.6 * static_cast<double>(r) / static_cast<double>(rows));
        }
        return {};
    }

    Result<std::vector<Contour>> lines(const Progress& progress) {
        auto found = Walker(m_crossings).run(progress);
        if (!found) return found.error();
        std::stable_sort(found->begin(), found->end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<Contour> out;
        out.reserve(found->size());
        for (auto& [level, points] : *found) out.push_back({m_levels[level], std::move(points)});
        return out;
    }

private:
    static constexpr std::uint64_t kMostCrossings = std::uint64_t{1} << 31;
    struct Corners {
        std::int32_t nw, ne, sw, se;
    };

    // Makes the crossings of the edge between two centres; returns the number of the first.
    [[gnu::always_inline]] std::uint32_t crossings(std::size_t r0, std::size_t c0, std::size_t r1,
                                                   std::size_t c1, std::int32_t from,
                                                   std::int32_t to) {
        if (from == to || (from | to) < 0) return m_crossings.count();
        const std::int32_t low = std::min(from, to), high = std::max(from, to);
        const std::uint32_t first = m_crossings.add(static_cast<std::uint32_t>(high - low));
        const auto a = static_cast<double>(m_heights(r0, c0));
        const double perHeight = 1 / (static_cast<double>(m_heights(r1, c1)) - a);
        const auto row = static_cast<double>(r0) + 0.5, col = static_cast<double>(c0) + 0.5;
        const Point start = m_toWorld({col, row});
        const Point step =
            r1 != r0 ? Point{m_toWorld.b, m_toWorld.e} : Point{m_toWorld.a, m_toWorld.d};
        Crossing* at = &m_crossings[first];
        for (std::int32_t k = low; k < high; ++k) {
            const double t = (m_levels[static_cast<std::size_t>(k)] - a) * perHeight;
            Crossing& c = *at++;
            c.at = start + step * t;
            c.next = kNone;
            c.level = static_cast<std::uint32_t>(k) & 0x7FFFFFFFu;
            c.isEntered = 0;
        }
        return first;
    }

    void link(std::uint32_t from, std::uint32_t to) {
        m_crossings[from].next = to;
        m_crossings[to].isEntered = 1;
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
    Crossings m_crossings;
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
    return tracer.lines(progress);
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
