#pragma once
#include <array>
#include <memory>
#include <mutex>
#include <vector>

#include "core/raster/raster_source.h"

namespace ledge {

/// How a reduced copy comes from the cells beneath: their mean, data cells only, or the upper left
/// one as it is, for cells that name classes.
enum class Reduction : std::uint8_t { Mean, Cell };

/// Reduced copies of one band for pictures: level k stands for 2^k x 2^k cells.
/// Levels that the source brings as overviews are read from there. Of the others those small enough
/// are kept in memory once read; larger ones are averaged from the next finer level there is, for
/// the window asked. Numbers shown to people never come from here. Safe from several threads.
class Pyramid {
public:
    /// Levels of at most `keptCells` cells are kept whole.
    Pyramid(RasterPtr source, int band, std::int64_t keptCells = 8'000'000);

    const RasterSource& source() const { return *m_source; }
    const RasterPtr& raster() const { return m_source; }
    int band() const { return m_band; }
    /// What suits the band: Cell where it has a palette.
    Reduction usualReduction() const {
        const bool isPalette =
            !m_source->info().bands[static_cast<std::size_t>(m_band)].palette.empty();
        return isPalette ? Reduction::Cell : Reduction::Mean;
    }
    /// Whether coarse pictures can be had without reading every cell.
    bool hasOverviews() const { return m_native.size() > 1; }
    int levelCount() const { return static_cast<int>(m_levels[0].size()); }
    /// The finest level whose longer side has at most so many cells.
    int levelOf(std::int64_t longestSide) const;
    /// Cells of a level: ceil(size / 2^level).
    std::int64_t cols(int level) const;
    std::int64_t rows(int level) const;

    /// Cells of a window of a level; parts outside the raster are NaN.
    Result<Grid<float>> read(int level, CellWindow window, const Progress& progress = {}) const {
        return read(level, window, usualReduction(), progress);
    }
    Result<Grid<float>> read(int level, CellWindow window, Reduction reduction,
                             const Progress& progress) const;

private:
    using Kept = std::shared_ptr<const Grid<float>>;
    Result<Kept> kept(int level, Reduction reduction, const Progress& progress) const;
    Result<Grid<float>> reduced(int level, CellWindow window, Reduction reduction,
                                const Progress& progress) const;
    Result<void> readCells(int level, CellWindow window, const Progress& progress,
                           Grid<float>& out) const;
    /// The coarsest level at or below this one that the source brings, made as asked.
    std::pair<int, RasterPtr> native(int level, Reduction reduction) const;
    /// Kept levels made so.
    std::vector<Kept>& levels(Reduction reduction) const {
        return m_levels[static_cast<std::size_t>(reduction)];
    }

    RasterPtr m_source;
    std::vector<std::pair<int, RasterPtr>> m_native;  ///< levels the source brings, finest first
    int m_band;
    std::int64_t m_keptCells;
    // Guards m_levels: which kept levels are there. Held while a level is filled, so that two
    // drawings do not read the same file twice.
    mutable std::mutex m_mutex;
    mutable std::array<std::vector<Kept>, 2> m_levels;
};

/// Half the rows and columns, each the mean of the data cells beneath; NaN where there are none.
Grid<float> halved(BlockView<const float> cells);

}  // namespace ledge
