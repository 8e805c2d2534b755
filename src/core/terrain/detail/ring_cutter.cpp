#include "core/terrain/detail/ring_cutter.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ledge::terrain {
namespace {
// The lattice edge that two points of one horizontal or vertical line both lie on.
std::optional<std::pair<Point, Point>> edgeOf(Point a, Point b) {
    const bool isAcross = a.y == b.y && a.y == std::floor(a.y);
    const bool isAlong = a.x == b.x && a.x == std::floor(a.x);
    if (isAcross) {
        const double from = std::floor(std::min(a.x, b.x));
        if (std::max(a.x, b.x) <= from + 1) return {{{from, a.y}, {from + 1, a.y}}};
    }
    if (isAlong) {
        const double from = std::floor(std::min(a.y, b.y));
        if (std::max(a.y, b.y) <= from + 1) return {{{a.x, from}, {a.x, from + 1}}};
    }
    return {};
}

// Angle by which one turns right from `from` to `to`, within (0, 2 pi].
double rightTurn(Point from, Point to) {
    constexpr double kTurn = 6.283185307179586;
    const double angle = std::atan2(from.y, from.x) - std::atan2(to.y, to.x);
    return angle > 0 ? angle : angle + kTurn;
}
}  // namespace

void RingCutter::add(const Ring& ring) {
    const ByPlace isBefore;
    for (std::size_t i = 0; i + 1 < ring.size(); ++i) {
        const Point a = ring[i], b = ring[i + 1];
        if (a == b) continue;
        const bool isForward = isBefore(a, b);
        const Point low = isForward ? a : b, high = isForward ? b : a;
        const int pass = isForward ? 1 : -1;
        if (const auto edge = edgeOf(a, b)) {
            auto& steps = m_edges[*edge];
            steps.push_back({low, pass});
            steps.push_back({high, -pass});
        } else {
            m_pieces[{low, high}] += pass;
        }
    }
}

std::vector<Ring> RingCutter::rings() const {
    const ByPlace isBefore;
    std::multimap<Point, Point, ByPlace> ways;  // ends by starts
    const auto put = [&ways](Point low, Point high, int passes) {
        for (int i = 0; i < std::abs(passes); ++i)
            ways.emplace(passes > 0 ? low : high, passes > 0 ? high : low);
    };
    for (const auto& [ends, passes] : m_pieces) put(ends.first, ends.second, passes);
    for (const auto& [edge, unsorted] : m_edges) {
        auto steps = unsorted;
        std::sort(steps.begin(), steps.end(),
                  [&](const Step& a, const Step& b) { return isBefore(a.at, b.at); });
        int passes = 0;
        for (std::size_t i = 0; i + 1 < steps.size(); ++i) {
            passes += steps[i].passes;
            if (steps[i].at != steps[i + 1].at) put(steps[i].at, steps[i + 1].at, passes);
        }
    }
    std::vector<Ring> out;
    while (!ways.empty()) {
        Ring path{ways.begin()->first};
        std::map<Point, std::size_t, ByPlace> places{{path.front(), 0}};
        for (Point at = path.front();;) {
            const auto [first, last] = ways.equal_range(at);
            if (first == last) break;
            auto next = first;
            if (std::next(first) != last && path.size() > 1) {
                // The area lies to the left: where ways meet, the sharpest left stays along it.
                const Point back = path[path.size() - 2] - at;
                next = std::min_element(first, last, [&](const auto& a, const auto& b) {
                    return rightTurn(back, a.second - at) < rightTurn(back, b.second - at);
                });
            }
            at = next->second;
            ways.erase(next);
            path.push_back(at);
            const auto [seen, isNew] = places.emplace(at, path.size() - 1);
            if (isNew) continue;
            // A point met again closes a ring; the path goes on from it.
            const auto begin = path.begin() + static_cast<std::ptrdiff_t>(seen->second);
            out.emplace_back(begin, path.end());
            for (auto p = begin + 1; p + 1 < path.end(); ++p) places.erase(*p);
            path.erase(begin + 1, path.end());
        }
    }
    return out;
}

}  // namespace ledge::terrain
