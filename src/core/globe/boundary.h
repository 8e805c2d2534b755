#pragma once
#include <cstdint>
#include <optional>
#include <vector>

#include "core/globe/domain.h"

/// The boundary of a domain as cutting walks along it. Longitudes are counted from the domain's
/// meridian or centre, and go on beyond 180. Both kinds have the same functions, so that cutting is
/// written once.
namespace ledge::globe {

/// Where a piece of a side lies: which turn of the strip, which side of its tears, or outside.
struct Cell {
    bool isInside = false;
    bool isUnsure = false;  ///< on the boundary itself: as its neighbour
    int turn = 0;           ///< of 360 degrees
    int half = 0;           ///< 1 north, -1 south of the equator where there are slits, else 0
    int lobe = 0;           ///< counted from the west within the half
    bool operator==(const Cell&) const = default;
};

/// A place on the boundary: how far along it, and the position just inside.
struct Spot {
    double along = 0;
    Point at;
};

class StripBoundary {
public:
    explicit StripBoundary(const Domain& domain);

    double origin() const { return m_domain.meridian; }
    /// Shares of the way from a to b at which the boundary may be met, ascending, without 0 and 1.
    void meetings(Point a, Point b, std::vector<double>& shares) const;
    Cell cellAt(Point middle) const;
    bool tears(const Cell& a, const Cell& b) const;
    Spot spotAt(const Cell& cell, Point p) const;
    /// A position of a cell in the strip's own turn, on its side of a tear.
    Point inside(const Cell& cell, Point p) const;
    double length() const { return static_cast<double>(m_corners.size()) - 1; }
    /// Positions between two places, the interior on the left.
    template <typename Visit>
    void walk(double from, double to, const Visit& visit) const {
        if (to < from) to += length();
        for (double corner = std::floor(from) + 1; corner < to; corner += 1)
            visit(cornerAt(corner));
    }
    /// Some place on it, away from corners.
    Point somewhere() const;
    /// The plane in which rings are nested.
    Point chart(Point p) const { return p; }

    Point start() const { return m_corners.front(); }

private:
    Point cornerAt(double along) const;

    const Domain& m_domain;
    double m_west, m_east;         ///< a hair inside of the tear for a whole strip
    std::vector<Point> m_corners;  ///< closed, the interior on the left
};

class CapBoundary {
public:
    CapBoundary(const Domain& domain, double step);

    double origin() const { return 0; }
    void meetings(Point a, Point b, std::vector<double>& shares) const;
    Cell cellAt(Point middle) const;
    bool tears(const Cell& a, const Cell& b) const { return a.isInside != b.isInside; }
    Spot spotAt(const Cell& cell, Point p) const;
    Point inside(const Cell&, Point p) const { return p; }
    double length() const { return 1; }
    template <typename Visit>
    void walk(double from, double to, const Visit& visit) const {
        if (to < from) to += 1;
        const auto parts = std::max(1.0, std::ceil((to - from) * 360 / m_step));
        for (double i = 1; i < parts; i += 1) visit(at(from + (to - from) * i / parts));
    }
    Point somewhere() const { return at(0.3437); }
    Point start() const { return at(0); }
    Point chart(Point p) const;

private:
    Point at(double along) const { return arcFrom(m_domain.centre, -360 * along, m_domain.radius); }
    /// Above 0 inside.
    double height(Point p) const;

    const Domain& m_domain;
    double m_step;
    double m_sine, m_cosine, m_edge;
};

}  // namespace ledge::globe
