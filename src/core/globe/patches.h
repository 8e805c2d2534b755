#pragma once
#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <mutex>
#include <optional>
#include <span>
#include <vector>

#include "core/geometry/geometry.h"

namespace ledge::globe {

/// How one place is mapped, and what must be known of a patch of country to map shapes in it
/// without a look at each side.
struct PatchWay {
    /// Places of the data to the map, exactly; false where any of them is not well inside of the
    /// map, or shapes there may be torn. `lonLat` gets them on the way, degrees.
    std::function<bool(std::span<const Point> places, std::vector<Point>& lonLat,
                       std::vector<Point>& images)>
        exact;
    /// The square of the longest side (units of the data) that needs no points between, and how
    /// far one strays, by the square of its length. `degrees`, `scale`: degrees and units of the
    /// map, at most, to a unit of the data.
    struct Sides {
        double longestSquare = 0, straysPerSquare = 0;
    };
    std::function<Sides(std::span<const Point> lonLat, double degrees, double scale)> sides;
    double exactness = 5e-7;  ///< units of the map that images may differ by
};

/// The map of a country as patches of polynomials, for many small shapes: an image is a few
/// products in place of two projections and a shift of datums. Each patch interpolates the exact
/// way at Chebyshev nodes and is used only where it agrees with it at the extrema between them.
///
/// The image of a point depends on the point alone: cells are as large as a power of two and lie on
/// a grid from 0 on, so that neighbours share their corners, and parts of a table are mapped like
/// the whole, as long as they are told the same extent and count. Thread-safe.
class Patches {
public:
    /// Over an extent of the data, about `count` of them.
    Patches(const Box& extent, std::size_t count, PatchWay way);

    /// The image of a point; nothing where no patch agrees with the exact way.
    std::optional<Point> map(Point p) const;
    /// The image of a shape, with as many points. Nothing where it must be mapped exactly: in part
    /// without a patch, or with long sides; else how far its sides stray at most.
    std::optional<double> map(const GeometryView& shape, std::vector<Point>& images) const;
    /// Gives the points of a shape that was mapped exactly, with others between them, the images
    /// that they have in its neighbours.
    void adopt(const GeometryView& shape, Geometry& image) const;

private:
    static constexpr std::size_t kNodes = 5;
    struct Patch {
        bool isGood = false;
        Point middle, half;                           ///< of its cell
        std::array<Point, kNodes * kNodes> powers{};  ///< of u (rows) and v, each from -1 to 1
        PatchWay::Sides sides;

        Point at(Point p) const;
    };
    struct Cell {
        std::once_flag isMade;
        Patch patch;
    };
    const Patch* patchAt(Point p) const;
    Patch made(Point middle) const;

    PatchWay m_way;
    double m_side = 1;                               ///< of a cell
    std::int64_t m_firstColumn = 0, m_firstRow = 0;  ///< of all there may be from 0 on
    std::int64_t m_columns = 0, m_rows = 0;
    std::unique_ptr<Cell[]> m_cells;
};

}  // namespace ledge::globe
