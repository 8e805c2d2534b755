#include "core/derive/polygons.h"

#include <algorithm>
#include <boost/geometry/algorithms/intersection.hpp>
#include <boost/geometry/algorithms/union.hpp>
#include <boost/geometry/strategies/strategies.hpp>
#include <cmath>

#include "core/derive/detail/boost_areas.h"
#include "core/geometry/relate.h"

namespace ledge::derive {
using namespace detail;
namespace {
Areas unionOf(const std::vector<Areas>& all, std::size_t from, std::size_t to) {
    if (to - from == 1) return all[from];
    const std::size_t middle = from + (to - from) / 2;
    const Areas a = unionOf(all, from, middle), b = unionOf(all, middle, to);
    Areas out;
    bg::union_(a, b, out);
    return out;
}
}  // namespace

std::optional<Geometry> unionOf(std::span<const Geometry> areas) {
    Box box;
    for (const Geometry& one : areas) box.add(one.box());
    const Shifted shift{box.isEmpty() ? Point{} : box.centre()};
    std::vector<Areas> all;
    for (const Geometry& one : areas)
        if (one.type == GeometryType::Polygon && !one.isEmpty()) all.push_back(areasOf(one, shift));
    if (all.empty()) return Geometry{};
    const auto out = tried([&] { return unionOf(all, 0, all.size()); });
    return out ? std::optional(geometryOf(*out, shift)) : std::nullopt;
}

std::optional<Geometry> intersectionOf(const Geometry& a, const Geometry& b) {
    const Shifted shift{a.box().isEmpty() ? Point{} : a.box().centre()};
    const auto out = tried([&] {
        Areas both;
        bg::intersection(areasOf(a, shift), areasOf(b, shift), both);
        return both;
    });
    return out ? std::optional(geometryOf(*out, shift)) : std::nullopt;
}

Geometry hullOf(const GeometryView& shape) {
    std::vector<Point> points(shape.points.begin(), shape.points.end());
    std::sort(points.begin(), points.end(),
              [](Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; });
    points.erase(std::unique(points.begin(), points.end()), points.end());
    if (points.size() == 1) return Geometry::point(points[0]);
    if (points.size() < 3) return points.empty() ? Geometry() : Geometry::line(points);
    std::vector<Point> hull;
    const auto half = [&](auto begin, auto end) {
        const std::size_t base = hull.size();
        for (auto it = begin; it != end; ++it) {
            while (hull.size() >= base + 2 && sideOf(hull[hull.size() - 2], hull.back(), *it) <= 0)
                hull.pop_back();
            hull.push_back(*it);
        }
        hull.pop_back();  // the first of the other half
    };
    half(points.begin(), points.end());
    half(points.rbegin(), points.rend());
    if (hull.size() < 3) return Geometry::line({points.front(), points.back()});
    hull.push_back(hull.front());
    return Geometry::polygon({hull});
}

}  // namespace ledge::derive
