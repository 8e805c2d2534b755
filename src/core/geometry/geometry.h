#pragma once
#include <cstdint>
#include <span>
#include <string>
#include <vector>

#include "core/geometry/point.h"

namespace ledge {

enum class GeometryType : std::uint8_t { None, Point, Line, Polygon };

struct GeometryView;

/// A simple-features geometry, single or multi, in flat arrays.
///
/// `parts` holds the start of each part in `points`: of each position, line or ring. Rings repeat
/// their first point. `polygons` holds, for polygons only, the index in `parts` of each outer ring;
/// the rings up to the next outer ring are its holes. `z` and `m` are the heights and measures of
/// the points, one for each, NaN where a point has none; empty where no point has one.
struct Geometry {
    GeometryType type = GeometryType::None;
    bool isMulti = false;
    std::vector<Point> points;
    std::vector<std::uint32_t> parts;
    std::vector<std::uint32_t> polygons;
    std::vector<double> z, m;

    bool operator==(const Geometry&) const = default;
    bool isEmpty() const { return points.empty(); }
    std::size_t partCount() const { return parts.size(); }
    std::span<const Point> part(std::size_t i) const;
    void beginPart(bool isOuterRing = false);
    /// A part of another geometry, with its heights and measures where that has any.
    void addPart(const GeometryView& from, std::size_t part, bool isOuterRing = false);
    /// Empty again, its arrays kept for the next.
    void clear();
    Box box() const;
    /// False when any coordinate is NaN or infinite.
    bool isFinite() const;

    static Geometry point(Point p);
    static Geometry line(std::vector<Point> points);
    /// One polygon of an outer ring and holes; rings are closed when they are not.
    static Geometry polygon(const std::vector<std::vector<Point>>& rings);
};

/// A geometry whose arrays belong to somebody else.
struct GeometryView {
    GeometryType type = GeometryType::None;
    bool isMulti = false;
    std::span<const Point> points;
    std::span<const std::uint32_t> parts, polygons;
    std::span<const double> z, m;

    GeometryView() = default;
    GeometryView(const Geometry& g)  // NOLINT(google-explicit-constructor): a view of the same
        : type(g.type), isMulti(g.isMulti), points(g.points), parts(g.parts), polygons(g.polygons),
          z(g.z), m(g.m) {}
    bool isEmpty() const { return points.empty(); }
    std::size_t partCount() const { return parts.size(); }
    std::span<const Point> part(std::size_t i) const;
    /// Heights or measures (`z`, `m`) of one part; empty where there are none.
    std::span<const double> ofPart(std::span<const double> all, std::size_t i) const;
    Box box() const;
    bool isFinite() const;
    Geometry toGeometry() const;
};

/// A polygon with its rings wound one way: outer rings clockwise and holes against, or the other
/// way round. Other geometries as they are.
Geometry wound(const GeometryView& geometry, bool outerClockwise);

std::string geometryTypeName(GeometryType type, bool isMulti);

}  // namespace ledge
