#include "core/geometry/shaping.h"

#include <algorithm>

#include "core/geometry/measure.h"
#include "core/geometry/relate.h"

namespace ledge {
namespace {
std::size_t partWith(const GeometryView& g, std::size_t point) {
    const auto it = std::upper_bound(g.parts.begin(), g.parts.end(), point);
    return static_cast<std::size_t>(it - g.parts.begin()) - 1;
}
std::size_t endOf(const GeometryView& g, std::size_t part) {
    return part + 1 < g.parts.size() ? g.parts[part + 1] : g.points.size();
}
bool isOuter(const GeometryView& g, std::size_t part) {
    return std::find(g.polygons.begin(), g.polygons.end(), part) != g.polygons.end();
}

// A shape with some of its parts; empty ones are never made.
std::optional<Geometry> onlyParts(const GeometryView& g, const std::vector<std::size_t>& parts) {
    if (parts.empty()) return {};
    Geometry out;
    out.type = g.type;
    for (const std::size_t part : parts) out.addPart(g, part, isOuter(g, part));
    out.isMulti = (g.type == GeometryType::Polygon ? out.polygons.size() : out.parts.size()) > 1;
    return out;
}

// Puts a vertex in, or takes one out, at a place of all arrays.
void shiftParts(Geometry& g, std::size_t part, int by) {
    for (std::size_t i = part + 1; i < g.parts.size(); ++i)
        g.parts[i] = static_cast<std::uint32_t>(static_cast<int>(g.parts[i]) + by);
}
}  // namespace

std::optional<Touched> touchedAt(const GeometryView& shape, Point at, double reach) {
    std::optional<Touched> vertex, side;
    const auto offer = [reach](std::optional<Touched>& best, const Touched& one) {
        if (one.distance <= reach && (!best || one.distance < best->distance)) best = one;
    };
    for (std::size_t part = 0; part < shape.partCount(); ++part)
        for (std::size_t i = shape.parts[part]; i < endOf(shape, part); ++i) {
            const Point p = shape.points[i];
            offer(vertex, {true, i, p, distance(p, at)});
            if (shape.type == GeometryType::Point || i + 1 >= endOf(shape, part)) continue;
            const Point along = shape.points[i + 1] - p;
            const double length2 = along.x * along.x + along.y * along.y;
            const Point to = at - p;
            const double share =
                length2 > 0 ? std::clamp((to.x * along.x + to.y * along.y) / length2, 0.0, 1.0) : 0;
            const Point foot = p + along * share;
            offer(side, {false, i, foot, distance(foot, at)});
        }
    return vertex ? vertex : side;
}

Geometry withVertexAt(const GeometryView& shape, std::size_t vertex, Point to) {
    Geometry out = shape.toGeometry();
    if (vertex >= out.points.size()) return out;
    out.points[vertex] = to;
    if (out.type != GeometryType::Polygon) return out;
    const std::size_t part = partWith(shape, vertex), first = shape.parts[part],
                      last = endOf(shape, part) - 1;
    if (vertex == first) out.points[last] = to;
    if (vertex == last) out.points[first] = to;
    return out;
}

Geometry withVertexAfter(const GeometryView& shape, std::size_t after, Point at) {
    Geometry out = shape.toGeometry();
    if (after + 1 >= out.points.size()) return out;
    const std::size_t part = partWith(shape, after);
    if (after + 1 >= endOf(shape, part)) return out;
    const double whole = distance(shape.points[after], shape.points[after + 1]);
    const double share = whole > 0 ? std::min(1.0, distance(shape.points[after], at) / whole) : 0.5;
    const auto place = static_cast<std::ptrdiff_t>(after + 1);
    out.points.insert(out.points.begin() + place, at);
    for (auto* values : {&out.z, &out.m})
        if (!values->empty()) {
            const double between =
                (*values)[after] + share * ((*values)[after + 1] - (*values)[after]);
            values->insert(values->begin() + place, between);
        }
    shiftParts(out, part, 1);
    return out;
}

std::optional<Geometry> withoutVertex(const GeometryView& shape, std::size_t vertex) {
    if (vertex >= shape.points.size()) return shape.toGeometry();
    const std::size_t part = partWith(shape, vertex), first = shape.parts[part],
                      end = endOf(shape, part);
    const std::size_t least = shape.type == GeometryType::Point  ? 1
                              : shape.type == GeometryType::Line ? 2
                                                                 : 4;
    if (end - first <= least) return withoutPartOf(shape, vertex);
    Geometry out = shape.toGeometry();
    const bool isRing = shape.type == GeometryType::Polygon;
    const bool isEnd = isRing && (vertex == first || vertex + 1 == end);
    const auto erase = [&](std::size_t at) {
        const auto place = static_cast<std::ptrdiff_t>(at);
        out.points.erase(out.points.begin() + place);
        if (!out.z.empty()) out.z.erase(out.z.begin() + place);
        if (!out.m.empty()) out.m.erase(out.m.begin() + place);
    };
    // A ring begins at its second point then.
    erase(isEnd ? first : vertex);
    shiftParts(out, part, -1);
    if (isEnd) {
        const std::size_t last = end - 2;
        out.points[last] = out.points[first];
        if (!out.z.empty()) out.z[last] = out.z[first];
        if (!out.m.empty()) out.m[last] = out.m[first];
    }
    return out;
}

std::optional<Geometry> withoutPartOf(const GeometryView& shape, std::size_t vertex) {
    if (vertex >= shape.points.size()) return shape.toGeometry();
    const std::size_t part = partWith(shape, vertex);
    std::size_t end = part + 1;
    if (shape.type == GeometryType::Polygon && isOuter(shape, part))
        while (end < shape.partCount() && !isOuter(shape, end)) ++end;
    std::vector<std::size_t> kept;
    for (std::size_t i = 0; i < shape.partCount(); ++i)
        if (i < part || i >= end) kept.push_back(i);
    return onlyParts(shape, kept);
}

Geometry withParts(const GeometryView& shape, const GeometryView& more) {
    Geometry out = shape.toGeometry();
    if (shape.isEmpty()) out.type = more.type;
    for (std::size_t i = 0; i < more.partCount(); ++i) out.addPart(more, i, isOuter(more, i));
    out.isMulti = (out.type == GeometryType::Polygon ? out.polygons.size() : out.parts.size()) > 1;
    return out;
}

std::optional<Geometry> withHole(const GeometryView& shape, const GeometryView& hole) {
    const PreparedShape ring(hole);
    std::vector<Geometry> polygons = partsOf(shape);
    const auto around = std::find_if(polygons.begin(), polygons.end(), [&](const Geometry& one) {
        return holds(Relation::Within, ring, PreparedShape(one));
    });
    if (around == polygons.end()) return {};
    around->addPart(hole, 0, false);
    Geometry out;
    for (const Geometry& one : polygons) out = withParts(out, one);
    out.isMulti = out.isMulti || shape.isMulti;
    return out;
}

std::vector<Geometry> partsOf(const GeometryView& shape) {
    std::vector<Geometry> out;
    for (std::size_t i = 0; i < shape.partCount(); ++i) {
        const bool begins = shape.type != GeometryType::Polygon || isOuter(shape, i);
        if (begins || out.empty()) out.emplace_back().type = shape.type;
        out.back().addPart(shape, i, isOuter(shape, i));
    }
    return out;
}

}  // namespace ledge
