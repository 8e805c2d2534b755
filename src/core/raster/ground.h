#pragma once
#include <functional>
#include <list>
#include <memory>
#include <mutex>

#include "core/crs/ground_metric.h"
#include "core/raster/raster_source.h"

namespace ledge {

/// How the cells of a grid lie over the ground, from the ellipsoid, for any CRS: their size along
/// both axes and their shear in the frame of the CRS's north, and how far that is from true north.
/// Between places where it is computed it is interpolated: sizes within 5e-5, directions within
/// 1e-4 radian. Where the projection has no inverse, the CRS's unit is taken as it is.
/// Safe from several threads; what is computed is kept for the rows last used.
class Ground {
public:
    /// `toWorld` leads from (column, row) of cell corners to the CRS; null CRS: metres.
    Ground(crs::CrsPtr crs, const Affine& toWorld, std::int64_t width, std::int64_t height);
    explicit Ground(const RasterInfo& info)
        : Ground(info.crs, info.toWorld, info.width, info.height) {}

    /// The cell at a column and row of cell corners (so +0.5 is a cell's middle).
    CellSize at(double col, double row) const;

    /// Parts of a window, each as high as the window, in which all cells of a row are alike within
    /// 1e-4: `visit(columns' part, one cell a row)`. A cell of the raster has the same size in any
    /// window. Stops at the first error.
    using Visit = std::function<Result<void>(CellWindow, std::span<const CellSize>)>;
    Result<void> forParts(CellWindow window, const Visit& visit) const;

    /// The angle from true north to the CRS's north at the middles of the cells of a row, degrees
    /// clockwise.
    void convergence(std::int64_t row, std::int64_t firstCol, std::span<float> degrees) const;
    /// Square metres of the cells of a row, within 1e-6.
    void areas(std::int64_t row, std::int64_t firstCol, std::span<double> squareMetres) const;

private:
    struct Patch;
    struct Strip;
    std::shared_ptr<const Strip> strip(std::int64_t index) const;
    std::shared_ptr<const Patch> patch(std::int64_t row0, std::int64_t col0) const;
    crs::GroundMetric metric(double col, double row) const;
    bool isAlike(const Patch& patch) const;
    CellSize cellOf(const crs::GroundMetric& metric) const;
    bool isByRow() const;

    crs::CrsPtr m_crs;
    Affine m_toWorld;
    std::int64_t m_width, m_height;
    std::int64_t m_side;  ///< cells of a patch along either axis, a power of two
    std::shared_ptr<const crs::ZoneArea> m_zones;  ///< of grids in degrees
    mutable std::mutex m_mutex;                    // guards m_strips, latest first
    mutable std::list<std::pair<std::int64_t, std::shared_ptr<const Strip>>> m_strips;
};

}  // namespace ledge
