#pragma once
#include <boost/geometry/algorithms/correct.hpp>
#include <boost/geometry/geometries/geometries.hpp>
#include <optional>

#include "core/geometry/geometry.h"

/// Our geometries as Boost's, for the two files that ask it.
namespace ledge::derive::detail {

namespace bg = boost::geometry;
using XY = bg::model::d2::point_xy<double>;
using Area = bg::model::polygon<XY>;
using Areas = bg::model::multi_polygon<Area>;

// Coordinates from the shape's own middle, so that large ones cost no digits.
struct Shifted {
    Point origin;
    XY in(Point p) const { return {p.x - origin.x, p.y - origin.y}; }
    Point out(const XY& p) const { return {p.x() + origin.x, p.y() + origin.y}; }
};

inline Areas areasOf(const GeometryView& g, const Shifted& shift) {
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

inline Geometry geometryOf(const Areas& areas, const Shifted& shift) {
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

}  // namespace ledge::derive::detail
