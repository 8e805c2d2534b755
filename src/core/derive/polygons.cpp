#include "core/derive/polygons.h"

#include <algorithm>
#include <boost/geometry.hpp>
#include <cmath>

#include "core/base/constants.h"
#include "core/geometry/relate.h"

namespace ledge::derive {
namespace {
namespace bg = boost::geometry;
using XY = bg::model::d2::point_xy<double>;
using Area = bg::model::polygon<XY>;
using Areas = bg::model::multi_polygon<Area>;
using Line = bg::model::linestring<XY>;
using Lines = bg::model::multi_linestring<Line>;
using Dots = bg::model::multi_point<XY>;

// Coordinates from the shape's own middle, so that large ones cost no digits.
struct Shifted {
    Point origin;
    XY in(Point p) const { return {p.x - origin.x, p.y - origin.y}; }
    Point out(const XY& p) const { return {p.x() + origin.x, p.y() + origin.y}; }
};

Areas areasOf(const GeometryView& g, const Shifted& shift) {
    Areas out;
    std::size_t next = 0;
    for (std::size_t i = 0; i < g.partCount(); ++i) {
        const bool isOuter = next < g.polygons.size() && g.polygons[next] == i;
        if (isOuter) {
            ++next;
            out.emplace_back();
        }
        if (out.empty()) continue;
        auto& ring = isOuter ? out.back().outer() : out.back().inners().emplace_back();
        for (const Point p : g.part(i)) ring.push_back(shift.in(p));
    }
    bg::correct(out);
    return out;
}

Geometry geometryOf(const Areas& areas, const Shifted& shift) {
    Geometry out;
    out.type = GeometryType::Polygon;
    out.isMulti = areas.size() > 1;
    const auto put = [&](const auto& ring, bool isOuter) {
        if (ring.size() < 4) return;
        out.beginPart(isOuter);
        for (const XY& p : ring) out.points.push_back(shift.out(p));
    };
    for (const Area& area : areas) {
        put(area.outer(), true);
        for (const auto& hole : area.inners()) put(hole, false);
    }
    return out;
}

// What Boost throws about its input is no failure of the program.
template <typename Work>
auto tried(const Work& work) -> std::optional<decltype(work())> {
    try {
        return work();
    } catch (const bg::exception&) {
        return {};
    }
}

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

std::optional<Geometry> bufferOf(const Geometry& shape, double distance, int steps) {
    const Shifted shift{shape.box().isEmpty() ? Point{} : shape.box().centre()};
    const auto count = static_cast<std::size_t>(std::max(8, steps));
    const bg::strategy::buffer::distance_symmetric<double> far(distance);
    const bg::strategy::buffer::side_straight side;
    const bg::strategy::buffer::join_round join(count);
    const bg::strategy::buffer::end_round end(count);
    const bg::strategy::buffer::point_circle circle(count);
    const auto out = tried([&] {
        Areas around;
        switch (shape.type) {
        case GeometryType::Point: {
            Dots dots;
            for (const Point p : shape.points) dots.push_back(shift.in(p));
            bg::buffer(dots, around, far, side, join, end, circle);
            break;
        }
        case GeometryType::Line: {
            Lines lines;
            for (std::size_t i = 0; i < shape.partCount(); ++i) {
                Line line;
                for (const Point p : shape.part(i)) line.push_back(shift.in(p));
                lines.push_back(std::move(line));
            }
            bg::buffer(lines, around, far, side, join, end, circle);
            break;
        }
        case GeometryType::Polygon:
            bg::buffer(areasOf(shape, shift), around, far, side, join, end, circle);
            break;
        case GeometryType::None: break;
        }
        return around;
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
