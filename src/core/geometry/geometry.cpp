#include "core/geometry/geometry.h"

#include "core/geometry/measure.h"

namespace ledge {

std::span<const Point> GeometryView::part(std::size_t i) const {
    const std::size_t begin = parts[i];
    const std::size_t end = i + 1 < parts.size() ? parts[i + 1] : points.size();
    return points.subspan(begin, end - begin);
}

std::span<const double> GeometryView::ofPart(std::span<const double> all, std::size_t i) const {
    if (all.empty()) return {};
    const std::size_t begin = parts[i];
    const std::size_t end = i + 1 < parts.size() ? parts[i + 1] : points.size();
    return all.subspan(begin, end - begin);
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
            {polygons.begin(), polygons.end()},
            {z.begin(), z.end()},
            {m.begin(), m.end()}};
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
    z.clear();
    m.clear();
}

void Geometry::beginPart(bool isOuterRing) {
    if (isOuterRing) polygons.push_back(static_cast<std::uint32_t>(parts.size()));
    parts.push_back(static_cast<std::uint32_t>(points.size()));
}

void Geometry::addPart(const GeometryView& from, std::size_t part, bool isOuterRing) {
    beginPart(isOuterRing);
    const auto added = from.part(part);
    points.insert(points.end(), added.begin(), added.end());
    const auto follow = [&](std::vector<double>& own, std::span<const double> all) {
        if (own.empty() && all.empty()) return;
        own.resize(points.size() - added.size(), std::nan(""));
        const auto values = from.ofPart(all, part);
        own.insert(own.end(), values.begin(), values.end());
        own.resize(points.size(), std::nan(""));
    };
    follow(z, from.z);
    follow(m, from.m);
}

Geometry Geometry::point(Point p) { return {GeometryType::Point, false, {p}, {0}, {}, {}, {}}; }

Geometry Geometry::line(std::vector<Point> points) {
    return {GeometryType::Line, false, std::move(points), {0}, {}, {}, {}};
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

Geometry wound(const GeometryView& geometry, bool outerClockwise) {
    Geometry out = geometry.toGeometry();
    if (out.type != GeometryType::Polygon) return out;
    std::size_t nextOuter = 0;
    for (std::size_t i = 0; i < out.partCount(); ++i) {
        const bool isOuter = nextOuter < out.polygons.size() && out.polygons[nextOuter] == i;
        if (isOuter) ++nextOuter;
        if ((signedArea(geometry.part(i)) < 0) == (isOuter == outerClockwise)) continue;
        const auto begin = static_cast<std::ptrdiff_t>(out.parts[i]);
        const auto end = begin + static_cast<std::ptrdiff_t>(geometry.part(i).size());
        std::reverse(out.points.begin() + begin, out.points.begin() + end);
        for (auto* values : {&out.z, &out.m})
            if (!values->empty()) std::reverse(values->begin() + begin, values->begin() + end);
    }
    return out;
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
