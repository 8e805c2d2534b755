#pragma once
#include <array>

#include "core/crs/transformation.h"
#include "core/raster/warp.h"

namespace ledge {

/// A raster on another grid and in another CRS, computed when it is read: nothing is held beyond
/// the tiles in work (some tens of MB a thread, whatever the size of either raster).
///
/// Positions: inverted exactly at the corners of a tile and interpolated between them where that is
/// within 0.05 source cell at the middles of its sides and at its centre; tiles are quartered until
/// it is, down to exact positions. So edges of a projection's domain, poles and the antimeridian
/// come out right; rasters that reach once around the earth are joined at their seam.
/// Nearest and Bilinear and Cubic read the source at full resolution; Average is the mean of the
/// source cells whose centres fall into the target cell (Bilinear where none does).
/// No data: a target cell whose nearest source cell has none, has none; other missing neighbours
/// are left out of the weights; cells outside the source have none.
/// The band types stay; integers are rounded. Same cells for any window and number of threads.
class ReprojectedRaster final : public RasterSource {
public:
    /// `toTarget` leads from the source's CRS to the target's.
    ReprojectedRaster(RasterPtr source, crs::Transformation toTarget, crs::CrsPtr targetCrs,
                      const TargetGrid& grid, Resampling resampling);

    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow window, BlockView<double> out) const override;
    Result<void> read(int band, CellWindow window, BlockView<float> out) const override;
    std::vector<std::string> damage() const override { return m_source->damage(); }

private:
    template <typename T>
    Result<void> readAs(int band, CellWindow window, BlockView<T> out) const;
    template <typename T>
    Result<void> fillTile(int band, CellWindow tile, BlockView<T> out) const;
    /// Source cell of each target cell of a tile; returns the box they lie in.
    Box findPositions(CellWindow tile, std::span<Point> at) const;
    void findPart(CellWindow tile, CellWindow part, std::span<Point> at, Box& reached) const;
    /// Source cells of the corners of a part (upper left, upper right, lower left, lower right)
    /// when positions between them are good enough interpolated.
    std::optional<std::array<Point, 4>> plainCorners(CellWindow part) const;
    Point sourceCell(double col, double row) const;

    RasterPtr m_source;
    crs::Transformation m_toTarget;
    RasterInfo m_info;
    Affine m_toSourceCell;
    Resampling m_resampling;
    double m_turn = 0;  ///< cells once around the earth; 0 when the source does not reach round
};

}  // namespace ledge
