#include "core/terrain/derived_raster.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/raster/ground_sizes.h"
#include "core/terrain/aspect.h"
#include "core/terrain/cast_shadows.h"

namespace ledge::terrain {
namespace {
using Kernel = std::function<Result<void>(BlockView<const float>, std::span<const CellSize>,
                                          BlockView<float>)>;
using Finish = std::function<Result<void>(CellWindow, BlockView<float>)>;

// A window of heights with one cell of rim, beyond the raster's edge continued linearly.
Result<void> readWithRim(const RasterSource& dem, CellWindow w, BlockView<float> out) {
    const RasterInfo& info = dem.info();
    const Sides ends{w.row == 0, w.row + w.rows == info.height, w.col == 0,
                     w.col + w.cols == info.width};
    const CellWindow wide{w.col - (ends.west ? 0 : 1), w.row - (ends.north ? 0 : 1),
                          w.cols + (ends.west ? 0 : 1) + (ends.east ? 0 : 1),
                          w.rows + (ends.north ? 0 : 1) + (ends.south ? 0 : 1)};
    const auto inner =
        out.part(ends.north ? 1 : 0, ends.west ? 1 : 0, static_cast<std::size_t>(wide.rows),
                 static_cast<std::size_t>(wide.cols));
    const auto done = dem.read(0, wide, inner);
    if (done) continueRim(out, ends);
    return done;
}

class DerivedRaster final : public RasterSource {
public:
    DerivedRaster(RasterPtr dem, BandInfo band, Kernel kernel, Finish finish = {})
        : m_dem(std::move(dem)), m_info(m_dem->info()), m_kernel(std::move(kernel)),
          m_finish(std::move(finish)) {
        m_info.format = "derived";
        m_info.bands = {std::move(band)};
        m_info.overviews = 0;
    }
    const RasterInfo& info() const override { return m_info; }
    std::vector<std::string> damage() const override { return m_dem->damage(); }

    Result<void> read(int, CellWindow w, BlockView<float> out) const override {
        if (w.isEmpty()) return {};
        static thread_local std::vector<float> cells;
        const std::size_t rows = out.rows() + 2, cols = out.cols() + 2;
        if (cells.size() < rows * cols) cells.resize(rows * cols);
        const BlockView<float> heights(cells.data(), rows, cols, cols);
        auto done = readWithRim(*m_dem, w, heights);
        if (done) done = m_kernel(heights, rowCellSizes(m_info, w.row, w.rows), out);
        if (done && m_finish) done = m_finish(w, out);
        return done;
    }
    Result<void> read(int band, CellWindow w, BlockView<double> out) const override {
        Grid<float> cells(out.rows(), out.cols());
        const auto done = read(band, w, cells.view());
        for (std::size_t r = 0; r < out.rows(); ++r)
            std::copy(cells.row(r).begin(), cells.row(r).end(), out.row(r).begin());
        return done;
    }

private:
    RasterPtr m_dem;
    RasterInfo m_info;
    Kernel m_kernel;
    Finish m_finish;
};

// How the directions of a grid lie over the ground: turned, or mirrored as when rows run north.
class GridDirections {
public:
    explicit GridDirections(const Affine& toWorld) {
        const auto bearing = [](double east, double north) {
            return std::atan2(east, north) / crs::kRadiansPerDegree;
        };
        // Towards lower rows, and along the columns.
        m_north = bearing(-toWorld.b, -toWorld.e);
        m_isMirrored = std::remainder(bearing(toWorld.a, toWorld.d) - m_north, 360) < 0;
    }
    bool isPlain() const { return m_north == 0 && !m_isMirrored; }
    /// A bearing over the ground as the grid has it, and back.
    double toGrid(double bearing) const {
        return turned(m_isMirrored ? m_north - bearing : bearing - m_north);
    }
    double toGround(double direction) const {
        return turned(m_isMirrored ? m_north - direction : m_north + direction);
    }

private:
    static double turned(double degrees) { return degrees - 360 * std::floor(degrees / 360); }
    double m_north = 0;
    bool m_isMirrored = false;
};

// Multiplies a window of illumination by the share of the lights that reach each cell.
Result<void> addShadows(const Surface& surface, const std::vector<Light>& lights, double relief,
                        CellWindow w, BlockView<float> out) {
    const RasterInfo& info = surface.dem->info();
    const auto cells = rowCellSizes(info, w.row, w.rows);
    Grid<float> reached(out.rows(), out.cols()), lit(out.rows(), out.cols());
    for (const Light& light : lights) {
        std::size_t longest = 1;
        for (const CellSize cell : {cells.front(), cells.back()})
            longest = std::max(longest, shadowReach(light, relief, cell) + 1);
        const auto reach = static_cast<std::int64_t>(longest);
        const double east = std::sin(light.azimuth * crs::kRadiansPerDegree);
        const double north = std::cos(light.azimuth * crs::kRadiansPerDegree);
        const std::int64_t col0 = std::max<std::int64_t>(0, w.col - (east < 0 ? reach : 1));
        const std::int64_t row0 = std::max<std::int64_t>(0, w.row - (north > 0 ? reach : 1));
        const std::int64_t col1 = std::min(info.width, w.col + w.cols + (east > 0 ? reach : 1));
        const std::int64_t row1 = std::min(info.height, w.row + w.rows + (north < 0 ? reach : 1));
        Grid<float> heights(static_cast<std::size_t>(row1 - row0),
                            static_cast<std::size_t>(col1 - col0));
        const CellWindow wide{col0, row0, col1 - col0, row1 - row0};
        if (const auto done = surface.dem->read(0, wide, heights.view()); !done) return done;
        const auto done = castShadows(heights.view(), static_cast<std::size_t>(w.row - row0),
                                      static_cast<std::size_t>(w.col - col0), cells,
                                      surface.heightScale, light, lit.view());
        if (!done) return done;
        for (std::size_t i = 0; i < lit.cells().size(); ++i) reached.cells()[i] += lit.cells()[i];
    }
    const float share = 1.0F / static_cast<float>(lights.size());
    for (std::size_t r = 0; r < out.rows(); ++r)
        for (std::size_t c = 0; c < out.cols(); ++c) out(r, c) *= reached(r, c) * share;
    return {};
}
}  // namespace

RasterPtr slopeRaster(const Surface& surface, SlopeUnit unit) {
    return std::make_shared<DerivedRaster>(
        surface.dem, BandInfo{CellType::Float32, -9999.0, ""},
        [scale = surface.heightScale, method = surface.method,
         unit](BlockView<const float> heights, std::span<const CellSize> cells,
               BlockView<float> out) { return slope(heights, cells, scale, method, unit, out); });
}

RasterPtr aspectRaster(const Surface& surface) {
    const GridDirections directions(surface.dem->info().toWorld);
    Finish finish;
    if (!directions.isPlain())
        finish = [directions](CellWindow, BlockView<float> out) -> Result<void> {
            for (std::size_t r = 0; r < out.rows(); ++r)
                for (float& v : out.row(r))
                    v = static_cast<float>(directions.toGround(static_cast<double>(v)));
            return {};
        };
    return std::make_shared<DerivedRaster>(
        surface.dem, BandInfo{CellType::Float32, -9999.0, ""},
        [scale = surface.heightScale, method = surface.method](
            BlockView<const float> heights, std::span<const CellSize> cells, BlockView<float> out) {
            return aspect(heights, cells, scale, method, out);
        },
        finish);
}

RasterPtr hillshadeRaster(const Surface& surface, std::vector<Light> lights,
                          std::optional<double> relief) {
    const GridDirections directions(surface.dem->info().toWorld);
    if (!directions.isPlain())
        for (Light& light : lights) light.azimuth = directions.toGrid(light.azimuth);
    const auto kernel = [scale = surface.heightScale, method = surface.method,
                         lights](BlockView<const float> heights, std::span<const CellSize> cells,
                                 BlockView<float> out) {
        return hillshade(heights, cells, scale, method, lights, out);
    };
    const auto finish = [surface, lights, relief](CellWindow w, BlockView<float> out) {
        Result<void> done;
        if (relief) done = addShadows(surface, lights, *relief, w, out);
        for (std::size_t r = 0; r < out.rows(); ++r) toShadeBytes(out.row(r).data(), out.cols());
        return done;
    };
    return std::make_shared<DerivedRaster>(surface.dem, BandInfo{CellType::UInt8, 0.0, ""}, kernel,
                                           finish);
}

}  // namespace ledge::terrain
