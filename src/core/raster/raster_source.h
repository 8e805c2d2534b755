#pragma once
#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/colour.h"
#include "core/base/progress.h"
#include "core/base/result.h"
#include "core/crs/crs.h"
#include "core/geometry/affine.h"
#include "core/raster/block_view.h"

namespace ledge {

enum class CellType : std::uint8_t { UInt8, Int8, UInt16, Int16, UInt32, Int32, Float32, Float64 };
std::string cellTypeName(CellType type);
std::size_t cellBytes(CellType type);
bool isFloating(CellType type);
/// Smallest and largest value of an integer type; infinite for floating ones.
std::pair<double, double> cellRange(CellType type);

/// What a band of a picture stands for.
enum class BandRole : std::uint8_t { Data, Red, Green, Blue, Alpha };

struct BandInfo {
    CellType type = CellType::Float32;  ///< of the cells as they are read
    std::optional<double> nodata;
    std::string unit;  ///< "metre", "foot" or empty when the file does not say
    std::string name = {};
    BandRole role = BandRole::Data;
    std::vector<Colour> palette = {};  ///< colour of each cell value from 0; empty: none
    /// Stored cells times `scale` plus `offset` are the cells read.
    double scale = 1, offset = 0;
};

/// A rectangle of cells, from column and row 0 at the upper left.
struct CellWindow {
    std::int64_t col = 0, row = 0, cols = 0, rows = 0;
    bool operator==(const CellWindow&) const = default;
    bool isEmpty() const { return cols <= 0 || rows <= 0; }
};

struct RasterInfo {
    std::string format;
    std::int64_t width = 0, height = 0;  ///< cells
    std::vector<BandInfo> bands;
    Affine toWorld;  ///< from (column, row) of cell corners to the CRS
    crs::CrsPtr crs;
    int overviews = 0;
    std::vector<std::string> notes;  ///< oddities met while opening, in words

    Box extent() const;
    CellWindow whole() const { return {0, 0, width, height}; }
};

/// Cells of a raster at full resolution. Implementations are safe to call from several threads.
class RasterSource {
public:
    virtual ~RasterSource() = default;
    virtual const RasterInfo& info() const = 0;

    /// Reads a window that lies inside the raster, exact in double; nodata becomes NaN.
    /// `out` has the window's rows and columns. Errors: BadFormat or IoFailure.
    virtual Result<void> read(int band, CellWindow window, BlockView<double> out) const = 0;
    /// The same in float.
    virtual Result<void> read(int band, CellWindow window, BlockView<float> out) const = 0;

    /// Reduced copies that come with the file, largest first. For pictures, never for numbers.
    virtual std::vector<std::shared_ptr<const RasterSource>> overviews() const { return {}; }
    /// Parts that turned out unreadable so far, each once, in words; their cells read as nodata.
    virtual std::vector<std::string> damage() const { return {}; }
};
using RasterPtr = std::shared_ptr<const RasterSource>;

/// A raster read through another, to change what is said of it.
class ForwardedRaster : public RasterSource {
public:
    ForwardedRaster(RasterPtr inner, RasterInfo info)
        : m_inner(std::move(inner)), m_info(std::move(info)) {}
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow window, BlockView<double> out) const override {
        return m_inner->read(band, window, out);
    }
    Result<void> read(int band, CellWindow window, BlockView<float> out) const override {
        return m_inner->read(band, window, out);
    }
    std::vector<RasterPtr> overviews() const override { return m_inner->overviews(); }
    std::vector<std::string> damage() const override { return m_inner->damage(); }

private:
    RasterPtr m_inner;
    RasterInfo m_info;
};

/// Where finished rows of one band of an output raster go, from north to south.
class RasterSink {
public:
    virtual ~RasterSink() = default;
    /// The next rows; NaN means nodata. `rows` must not pass the raster's height.
    virtual Result<void> append(BlockView<const float> rows) = 0;
    virtual Result<void> append(BlockView<const double> rows) = 0;
    /// Completes the file; until then nothing stands under its name.
    virtual Result<void> finish() = 0;
};

/// A raster held in memory.
class MemoryRaster final : public RasterSource {
public:
    MemoryRaster(RasterInfo info, Grid<float> cells);
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow window, BlockView<double> out) const override;
    Result<void> read(int band, CellWindow window, BlockView<float> out) const override;

private:
    RasterInfo m_info;
    Grid<float> m_cells;
};

/// The value of one band at a position in the raster's CRS, at full resolution; NaN outside.
double valueAt(const RasterSource& source, int band, Point world);

/// Exact count, extremes, mean and standard deviation of the data cells of a band.
struct RasterStatistics {
    std::int64_t count = 0, missing = 0;
    double min = kNaN, max = kNaN, mean = kNaN, deviation = kNaN;
};
Result<RasterStatistics> statistics(const RasterSource& source, int band,
                                    const Progress& progress = {});

}  // namespace ledge
