#include <algorithm>
#include <boost/geometry/algorithms/buffer.hpp>
#include <boost/geometry/strategies/strategies.hpp>

#include "core/derive/detail/boost_areas.h"
#include "core/derive/polygons.h"

namespace ledge::derive {
using namespace detail;
namespace {
using Line = bg::model::linestring<XY>;
using Lines = bg::model::multi_linestring<Line>;
using Dots = bg::model::multi_point<XY>;
}  // namespace

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

}  // namespace ledge::derive
