#pragma once
#include <array>
#include <functional>
#include <optional>
#include <string_view>

#include "core/geometry/geometry.h"
#include "core/geometry/packed_tree.h"

namespace ledge {

/// Where a point lies as seen from a shape. The boundary of a line are its ends, of several those
/// that an odd number of them share; points have none.
enum class Location : std::uint8_t { Inside, Boundary, Outside };

/// Side of c seen from the line a to b: positive left, negative right, exactly 0 on it. By doubles
/// where their error cannot change the sign, else with more digits.
int sideOf(Point a, Point b, Point c);

/// A shape laid out for being compared with many others: its sides, found by their place. Polygons
/// count as even-odd over all rings, so that those that cross themselves have answers too.
class PreparedShape {
public:
    struct Side {
        Point from, to;
        Box box() const {
            Box out;
            out.add(from);
            out.add(to);
            return out;
        }
    };

    explicit PreparedShape(const GeometryView& geometry);

    GeometryType type() const { return m_shape.type; }
    const Box& box() const { return m_box; }
    bool isEmpty() const { return m_shape.isEmpty(); }
    const Geometry& shape() const { return m_shape; }
    std::span<const Side> sides() const { return m_sides; }
    /// Ends that are boundary, of lines.
    std::span<const Point> ends() const { return m_ends; }
    Location locate(Point p) const;
    /// Calls `visit(side)` for the sides whose boxes meet `box` until it returns false.
    template <typename Visit>
    bool meeting(const Box& box, const Visit& visit) const {
        if (m_tree.size() > 0)
            return m_tree.meeting(box, [&](std::size_t i) { return visit(m_sides[i]); });
        for (const Side& side : m_sides)
            if (side.box().intersects(box) && !visit(side)) return false;
        return true;
    }

private:
    Geometry m_shape;  ///< rings of polygons wound alike: inside to the right
    Box m_box;
    std::vector<Side> m_sides;
    std::vector<Point> m_ends;
    PackedTree m_tree;  ///< of the sides, where there are many
};

/// The nine intersections of two shapes' insides, boundaries and outsides (Egenhofer and Herring
/// 1990; OGC 06-103r4, 6.1.15): the dimension of each, -1 where it is empty.
struct NineIntersections {
    std::array<std::array<int, 3>, 3> of{{{-1, -1, -1}, {-1, -1, -1}, {-1, -1, 2}}};
    int at(Location a, Location b) const {
        return of[static_cast<std::size_t>(a)][static_cast<std::size_t>(b)];
    }
    void note(Location a, Location b, int dimension) {
        int& one = of[static_cast<std::size_t>(a)][static_cast<std::size_t>(b)];
        one = std::max(one, dimension);
    }
};
NineIntersections nineIntersections(const PreparedShape& a, const PreparedShape& b);

enum class Relation : std::uint8_t {
    Intersects,
    Disjoint,
    Within,
    Contains,
    Touches,
    Crosses,
    Overlaps,
    Equals
};
inline constexpr std::array<std::string_view, 8> kRelationNames{
    "intersects", "disjoint", "within", "contains", "touches", "crosses", "overlaps", "equals"};

/// Whether a relation holds between two shapes, in the plane. What is empty is disjoint from all.
bool holds(Relation relation, const PreparedShape& a, const PreparedShape& b);
/// Whether they have a point in common; faster than all nine.
bool meets(const PreparedShape& a, const PreparedShape& b);
/// The parts of lines that run inside an area or along its boundary, as lines; empty without any.
Geometry runsWithin(const PreparedShape& lines, const PreparedShape& area);

}  // namespace ledge
