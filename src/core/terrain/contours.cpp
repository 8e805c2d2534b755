#include "core/terrain/contours.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

#include "core/base/numbers.h"

namespace ledge::terrain {
namespace {
constexpr std::size_t kMostLevels = 100'000;

constexpr std::uint32_t kNone = std::numeric_limits<std::uint32_t>::max();

// How many levels do not pass a height: the height's place among them, -1 for no data.
class Ranks {
public:
    explicit Ranks(const std::vector<double>& levels) : m_levels(levels) {
        m_step = levels.size() > 1 ? (levels.back() - levels.front()) /
                                         static_cast<double>(levels.size() - 1)
                                   : 0;
        for (std::size_t k = 0; k < levels.size(); ++k)
            if (std::abs(levels[k] - levels.front() - m_step * static_cast<double>(k)) >
                1e-6 * m_step)
                m_step = 0;  // listed levels: found by search
    }
    void row(std::span<const float> heights, std::vector<std::int32_t>& out) const {
        const auto count = static_cast<std::int32_t>(m_levels.size());
        for (std::size_t c = 0; c < heights.size(); ++c) {
            const auto v = static_cast<double>(heights[c]);
            if (!std::isfinite(v)) {
                out[c] = -1;
                continue;
            }
            if (m_step == 0) {
                out[c] = static_cast<std::int32_t>(
                    std::upper_bound(m_levels.begin(), m_levels.end(), v) - m_levels.begin());
                continue;
            }
            const double place = (v - m_levels.front()) / m_step + 1;
            auto k = place <= 0 ? 0 : place >= count ? count : static_cast<std::int32_t>(place);
            // Rounding may be one off.
            while (k < count && v >= m_levels[static_cast<std::size_t>(k)]) ++k;
            while (k > 0 && v < m_levels[static_cast<std::size_t>(k - 1)]) --k;
            out[c] = k;
        }
    }

private:
    const std::vector<double>& m_levels;
    double m_step;
};

// Every crossing of a grid edge with a level is one vertex. The levels that cross an edge follow
// each other, so a vertex is found by its edge's first one and its level: no search, no sorting.
class Tracer {
public:
    Tracer(BlockView<const float> heights, const Affine& toWorld, const std::vector<double>& levels)
        : m_heights(heights), m_toWorld(toWorld), m_levels(levels), m_ranks(levels) {}

    Result<void> run(const Progress& progress) {
        const std::size_t rows = m_heights.rows(), cols = m_heights.cols();
        std::vector<std::int32_t> upper(cols), lower(cols);
        std::vector<std::uint32_t> top(cols), bottom(cols), side(cols);
        m_ranks.row(m_heights.row(0), upper);
        alongRow(0, upper, top);
        for (std::size_t r = 0; r + 1 < rows; ++r) {
            if (progress.stopped()) return cancelled("contours");
            m_ranks.row(m_heights.row(r + 1), lower);
            alongRow(r + 1, lower, bottom);
            for (std::size_t c = 0; c < cols; ++c)
                side[c] = crossings(r, c, r + 1, c, upper[c], lower[c]);
            for (std::size_t c = 0; c + 1 < cols; ++c) {
                const std::int32_t nw = upper[c], ne = upper[c + 1], sw = lower[c],
                                   se = lower[c + 1];
                if (nw == ne && sw == se && nw == sw) continue;
                if ((nw | ne | sw | se) < 0) continue;  // some corner without data
                square(r, c, {nw, ne, sw, se}, top[c], bottom[c], side[c], side[c + 1]);
            }
            if (m_next.size() >= kNone - 8 * cols)
                return Error{ErrorCode::LimitExceeded, "contours",
                             "more than 4000 million vertices", "choose a larger interval"};
            std::swap(upper, lower);
            std::swap(top, bottom);
            progress.at(0.7 * static_cast<double>(r) / static_cast<double>(rows));
        }
        return {};
    }

    std::vector<Contour> lines() {
        // Open lines from their beginnings, then rings from anywhere; by level in the end.
        std::vector<bool> hasBefore(m_next.size(), false);
        for (const std::uint32_t to : m_next)
            if (to != kNone) hasBefore[to] = true;
        std::vector<std::pair<std::uint32_t, Contour>> found;
        for (std::uint32_t v = 0; v < m_next.size(); ++v)
            if (!hasBefore[v] && m_next[v] != kNone) trace(v, found);
        for (std::uint32_t v = 0; v < m_next.size(); ++v)
            if (m_next[v] != kNone) trace(v, found);
        std::stable_sort(found.begin(), found.end(),
                         [](const auto& a, const auto& b) { return a.first < b.first; });
        std::vector<Contour> out;
        out.reserve(found.size());
        for (auto& [level, line] : found) out.push_back(std::move(line));
        return out;
    }

private:
    struct Corners {
        std::int32_t nw, ne, sw, se;
    };

    void alongRow(std::size_t r, const std::vector<std::int32_t>& ranks,
                  std::vector<std::uint32_t>& first) {
        for (std::size_t c = 0; c + 1 < ranks.size(); ++c)
            first[c] = crossings(r, c, r, c + 1, ranks[c], ranks[c + 1]);
    }

    // Makes the vertices of the edge between two centres; returns the first.
    std::uint32_t crossings(std::size_t r0, std::size_t c0, std::size_t r1, std::size_t c1,
                            std::int32_t from, std::int32_t to) {
        const auto first = static_cast<std::uint32_t>(m_next.size());
        if (from == to || (from | to) < 0) return first;
        const auto a = static_cast<double>(m_heights(r0, c0));
        const double climb = static_cast<double>(m_heights(r1, c1)) - a;
        const auto row = static_cast<double>(r0) + 0.5, col = static_cast<double>(c0) + 0.5;
        const bool isDown = r1 != r0;
        for (std::int32_t k = std::min(from, to); k < std::max(from, to); ++k) {
            const double t = (m_levels[static_cast<std::size_t>(k)] - a) / climb;
            m_points.push_back(
                m_toWorld(isDown ? Point{col, row + t} : Point{col + t, row}));
            m_next.push_back(kNone);
            m_level.push_back(static_cast<std::uint32_t>(k));
        }
        return first;
    }

    // Links the vertices around one square, level by level, high ground on the left with rows going
    // south.
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
            const int kind = (rank.nw > k ? 8 : 0) | (rank.ne > k ? 4 : 0) |
                             (rank.se > k ? 2 : 0) | (rank.sw > k ? 1 : 0);
            const auto n = static_cast<std::uint32_t>(k);
            const std::uint32_t top = t + n, bottom = b + n, left = l + n, right = e + n;
            switch (kind) {
            case 1: m_next[bottom] = left; break;
            case 2: m_next[right] = bottom; break;
            case 3: m_next[right] = left; break;
            case 4: m_next[top] = right; break;
            case 6: m_next[top] = bottom; break;
            case 7: m_next[top] = left; break;
            case 8: m_next[left] = top; break;
            case 9: m_next[bottom] = top; break;
            case 11: m_next[right] = top; break;
            case 12: m_next[left] = right; break;
            case 13: m_next[bottom] = right; break;
            case 14: m_next[left] = bottom; break;
            case 5:
            case 10: {
                const double mean = (static_cast<double>(m_heights(r, c)) +
                                     static_cast<double>(m_heights(r, c + 1)) +
                                     static_cast<double>(m_heights(r + 1, c)) +
                                     static_cast<double>(m_heights(r + 1, c + 1))) /
                                    4;
                const bool highTogether = mean >= m_levels[n];
                if (kind == 5) {  // ne and sw high
                    m_next[top] = highTogether ? left : right;
                    m_next[bottom] = highTogether ? right : left;
                } else {  // nw and se high
                    m_next[right] = highTogether ? top : bottom;
                    m_next[left] = highTogether ? bottom : top;
                }
                break;
            }
            default: break;
            }
        }
    }

    // Follows a line from a vertex and unlinks what it passes.
    void trace(std::uint32_t first, std::vector<std::pair<std::uint32_t, Contour>>& out) {
        Contour line{m_levels[m_level[first]], {}};
        for (std::uint32_t v = first; v != kNone;) {
            if (line.points.empty() || line.points.back() != m_points[v])
                line.points.push_back(m_points[v]);
            const std::uint32_t next = m_next[v];
            m_next[v] = kNone;
            if (next == first && line.points.front() != line.points.back())
                line.points.push_back(line.points.front());
            v = next == first ? kNone : next;
        }
        if (line.points.size() > 1) out.emplace_back(m_level[first], std::move(line));
    }

    BlockView<const float> m_heights;
    Affine m_toWorld;
    const std::vector<double>& m_levels;
    Ranks m_ranks;
    std::vector<Point> m_points;
    std::vector<std::uint32_t> m_next, m_level;
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
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (std::size_t r = 0; r < heights.rows(); ++r)
        for (const float v : heights.row(r))
            if (std::isfinite(v)) {
                low = std::min(low, static_cast<double>(v));
                high = std::max(high, static_cast<double>(v));
            }
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
