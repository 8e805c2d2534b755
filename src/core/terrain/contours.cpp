#include "core/terrain/contours.h"

#include <algorithm>
#include <cmath>
#include <cstdint>

#include "core/base/numbers.h"

namespace ledge::terrain {
namespace {
constexpr std::size_t kMostLevels = 100'000;

// An edge of the grid of centres: twice the index of its upper left centre, plus 1 when it goes
// down instead of right.
using Edge = std::uint64_t;

struct Segment {
    Edge from, to;
};

class Tracer {
public:
    Tracer(BlockView<const float> heights, const Affine& toWorld)
        : m_heights(heights), m_toWorld(toWorld) {}

    // Adds the segments of the square with upper left centre (r, c) for one level.
    void square(std::size_t r, std::size_t c, double level, std::vector<Segment>& out) const {
        const std::size_t cols = m_heights.cols();
        const double nw = at(r, c), ne = at(r, c + 1), sw = at(r + 1, c), se = at(r + 1, c + 1);
        const int kind = (nw >= level ? 8 : 0) | (ne >= level ? 4 : 0) | (se >= level ? 2 : 0) |
                         (sw >= level ? 1 : 0);
        const Edge index = r * cols + c;
        const Edge top = 2 * index, left = 2 * index + 1, bottom = 2 * (index + cols),
                   right = 2 * (index + 1) + 1;
        // Directed so that high ground lies on the left with rows going south.
        const auto add = [&](Edge from, Edge to) { out.push_back({from, to}); };
        switch (kind) {
        case 1: add(bottom, left); break;
        case 2: add(right, bottom); break;
        case 3: add(right, left); break;
        case 4: add(top, right); break;
        case 6: add(top, bottom); break;
        case 7: add(top, left); break;
        case 8: add(left, top); break;
        case 9: add(bottom, top); break;
        case 11: add(right, top); break;
        case 12: add(left, right); break;
        case 13: add(bottom, right); break;
        case 14: add(left, bottom); break;
        case 5:
        case 10: {
            const bool highTogether = (nw + ne + sw + se) / 4 >= level;
            if (kind == 5) {  // ne and sw high
                highTogether ? (add(top, left), add(bottom, right))
                             : (add(top, right), add(bottom, left));
            } else {  // nw and se high
                highTogether ? (add(right, top), add(left, bottom))
                             : (add(left, top), add(right, bottom));
            }
            break;
        }
        default: break;
        }
    }

    // Joins the segments of a level into lines.
    void link(std::vector<Segment>& segments, double level, std::vector<Contour>& out) const {
        std::sort(segments.begin(), segments.end(),
                  [](const Segment& a, const Segment& b) { return a.from < b.from; });
        const auto following = [&](Edge edge) {
            const auto it = std::lower_bound(segments.begin(), segments.end(), edge,
                                             [](const Segment& s, Edge e) { return s.from < e; });
            return it != segments.end() && it->from == edge
                       ? static_cast<std::size_t>(it - segments.begin())
                       : segments.size();
        };
        std::vector<std::size_t> next(segments.size());
        std::vector<bool> hasBefore(segments.size(), false), used(segments.size(), false);
        for (std::size_t i = 0; i < segments.size(); ++i) {
            next[i] = following(segments[i].to);
            if (next[i] < segments.size()) hasBefore[next[i]] = true;
        }
        const auto trace = [&](std::size_t first) {
            Contour line{level, {}};
            std::size_t i = first;
            append(line.points, segments[first].from, level);
            while (i < segments.size() && !used[i]) {
                used[i] = true;
                append(line.points, segments[i].to, level);
                i = next[i];
            }
            if (i == first && line.points.size() > 1 && line.points.front() != line.points.back())
                line.points.push_back(line.points.front());
            if (line.points.size() > 1) out.push_back(std::move(line));
        };
        for (std::size_t i = 0; i < segments.size(); ++i)
            if (!hasBefore[i]) trace(i);
        for (std::size_t i = 0; i < segments.size(); ++i)
            if (!used[i]) trace(i);
    }

private:
    double at(std::size_t r, std::size_t c) const { return static_cast<double>(m_heights(r, c)); }

    void append(std::vector<Point>& line, Edge edge, double level) const {
        const std::size_t cols = m_heights.cols();
        const std::size_t index = edge / 2, r = index / cols, c = index % cols;
        const bool isDown = edge % 2 == 1;
        const double a = at(r, c), b = isDown ? at(r + 1, c) : at(r, c + 1);
        const double t = (level - a) / (b - a);
        const Point centre{static_cast<double>(c) + 0.5, static_cast<double>(r) + 0.5};
        const Point p =
            m_toWorld(isDown ? Point{centre.x, centre.y + t} : Point{centre.x + t, centre.y});
        if (line.empty() || line.back() != p) line.push_back(p);
    }

    BlockView<const float> m_heights;
    Affine m_toWorld;
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
    std::vector<std::vector<Segment>> segments(levels.size());
    const Tracer tracer(heights, toWorld);
    for (std::size_t r = 0; r + 1 < heights.rows() && !levels.empty(); ++r) {
        if (progress.stopped()) return cancelled("contours");
        const auto upper = heights.row(r), lower = heights.row(r + 1);
        for (std::size_t c = 0; c + 1 < heights.cols(); ++c) {
            const float corners[] = {upper[c], upper[c + 1], lower[c], lower[c + 1]};
            const auto [least, most] = std::minmax_element(std::begin(corners), std::end(corners));
            if (!std::isfinite(corners[0] + corners[1] + corners[2] + corners[3])) continue;
            // Crossed levels: least < level <= most.
            auto it = std::upper_bound(levels.begin(), levels.end(), static_cast<double>(*least));
            for (; it != levels.end() && *it <= static_cast<double>(*most); ++it)
                tracer.square(r, c, *it, segments[static_cast<std::size_t>(it - levels.begin())]);
        }
        progress.at(0.7 * static_cast<double>(r) / static_cast<double>(heights.rows()));
    }
    std::vector<Contour> out;
    for (std::size_t k = 0; k < levels.size(); ++k) {
        if (progress.stopped()) return cancelled("contours");
        tracer.link(segments[k], levels[k], out);
        progress.at(0.7 + 0.3 * static_cast<double>(k + 1) / static_cast<double>(levels.size()));
    }
    return out;
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
