#include "core/geometry/geometry.h"

namespace ledge {

std::span<const Point> GeometryView::part(std::size_t i) const {
    const std::size_t begin = parts[i];
    const std::size_t end = i + 1 < parts.size() ? parts[i + 1] : points.size();
    return points.subspan(begin, end - begin);
}

Box GeometryView::box() const {
    Box box;
    for (const Point p : points) box.add(p);
    return box;
}

bool GeometryView::isFinite() const {
    return std::all_of(points.begin(), points.end(), [](Point p) { return p.isFinite(); });
}

Geometry GeometryView::toGeometry() const {
    return {type,
            isMulti,
            {points.begin(), points.end()},
            {parts.begin(), parts.end()},
            {polygons.begin(), polygons.end()}};
}

std::span<const Point> Geometry::part(std::size_t i) const { return GeometryView(*this).part(i); }
Box Geometry::box() const { return GeometryView(*this).box(); }
bool Geometry::isFinite() const { return GeometryView(*this).isFinite(); }

void Geometry::clear() {
    type = GeometryType::None;
    isMulti = false;
    points.clear();
    parts.clear();
    polygons.clear();
}

void Geometry::beginPart(bool isOuterRing) {
    if (isOuterRing) polygons.push_back(static_cast<std::uint32_t>(parts.size()));
    parts.push_back(static_cast<std::uint32_t>(points.size()));
}

Geometry Geometry::point(Point p) { return {GeometryType::Point, false, {p}, {0}, {}}; }

Geometry Geometry::line(std::vector<Point> points) {
    return {GeometryType::Line, false, std::move(points), {0}, {}};
}

Geometry Geometry::polygon(const std::vector<std::vector<Point>>& rings) {
    Geometry g;
    g.type = GeometryType::Polygon;
    for (std::size_t i = 0; i < rings.size(); ++i) {
        g.beginPart(i == 0);
        g.points.insert(g.points.end(), rings[i].begin(), rings[i].end());
        if (!rings[i].empty() && rings[i].front() != rings[i].back())
            g.points.push_back(rings[i].front());
    }
    return g;
}

std::string geometryTypeName(GeometryType type, bool isMulti) {
    const std::string multi = isMulti ? "Multi" : "";
    switch (type) {
    case GeometryType::Point: return multi + "Point";
    case GeometryType::Line: return multi + "LineString";
    case GeometryType::Polygon: return multi + "Polygon";
    case GeometryType::None: break;
    }
    return "Geometry";
}

}  // namespace ledge
