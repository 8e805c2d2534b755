#pragma once
#include <map>
#include <vector>

#include "core/geometry/geometry.h"

namespace ledge::terrain {

using Ring = std::vector<Point>;  ///< closed: the last point is the first

/// Cuts out what boundaries share. Rings are added with their area on the left; pieces that run
/// along each other in opposite directions fall out, what is left is linked to rings anew.
///
/// Units: the lattice, nodes at whole numbers. Pieces along the edge between two neighbouring nodes
///        may overlap in part; others fall out only when both ends agree.
class RingCutter {
public:
    void add(const Ring& ring);
    /// Rings that touch neither themselves nor each other but at points; holes turn right.
    std::vector<Ring> rings() const;

private:
    struct ByPlace {
        bool operator()(Point a, Point b) const { return a.x != b.x ? a.x < b.x : a.y < b.y; }
        using Pair = std::pair<Point, Point>;
        bool operator()(const Pair& a, const Pair& b) const {
            if (a.first != b.first) return (*this)(a.first, b.first);
            return (*this)(a.second, b.second);
        }
    };
    struct Step {
        Point at;
        int passes;  // those that start here less those that end
    };

    // Along an edge of the lattice, from its lesser node: where coverage changes and by how much.
    std::map<std::pair<Point, Point>, std::vector<Step>, ByPlace> m_edges;
    // Pieces across cells, from the lesser end: passes that way less passes back.
    std::map<std::pair<Point, Point>, int, ByPlace> m_pieces;
};

}  // namespace ledge::terrain
