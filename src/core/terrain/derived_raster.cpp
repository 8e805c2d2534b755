#include "core/terrain/derived_raster.h"

#include <algorithm>
#include <cmath>
#include <functional>

#include "core/raster/ground.h"
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

// Heights for one read. Kept by the thread, one for each derivative that is computed from another,
// so that inner ones do not write over what outer ones read.
class Scratch {
public:
    explicit Scratch(std::size_t cells) {
        auto& all = kept();
        if (all.size() <= depth()) all.emplace_back();
        auto& mine = all[depth()++];
        if (mine.size() < cells) mine.resize(cells);
        m_cells = mine.data();
    }
    ~Scratch() { --depth(); }
    Scratch(const Scratch&) = delete;
    Scratch& operator=(const Scratch&) = delete;
    float* cells() const { return m_cells; }

private:
    static std::vector<std::vector<float>>& kept() {
        static thread_local std::vector<std::vector<float>> all;
        return all;
    }
    static std::size_t& depth() {
        static thread_local std::size_t deep = 0;
        return deep;
    }
    float* m_cells;
};

class DerivedRaster final : public RasterSource {
public:
    DerivedRaster(RasterPtr dem, std::shared_ptr<const Ground> ground, BandInfo band, Kernel kernel,
                  Finish finish = {})
        : m_dem(std::move(dem)), m_ground(std::move(ground)), m_info(m_dem->info()),
          m_kernel(std::move(kernel)), m_finish(std::move(finish)) {
        m_info.format = "derived";
        m_info.bands = {std::move(band)};
        m_info.overviews = 0;
    }
    const RasterInfo& info() const override { return m_info; }
    std::vector<std::string> damage() const override { return m_dem->damage(); }

    Result<void> read(int, CellWindow w, BlockView<float> out) const override {
        if (w.isEmpty()) return {};
        const std::size_t rows = out.rows() + 2, cols = out.cols() + 2;
        const Scratch scratch(rows * cols);
        const BlockView<float> heights(scratch.cells(), rows, cols, cols);
        auto done = readWithRim(*m_dem, w, heights);
        if (done)
            done = m_ground->forParts(w, [&](CellWindow part, std::span<const CellSize> cells) {
                const auto at = static_cast<std::size_t>(part.col - w.col);
                const auto width = static_cast<std::size_t>(part.cols);
                return m_kernel(heights.part(0, at, rows, width + 2), cells,
                                out.part(0, at, out.rows(), width));
            });
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
    std::shared_ptr<const Ground> m_ground;
    RasterInfo m_info;
    Kernel m_kernel;
    Finish m_finish;
};

std::shared_ptr<const Ground> groundOf(const Surface& surface) {
    return std::make_shared<Ground>(surface.dem->info());
}

// As much of the grid around a window as the shadows of a light may come from.
CellWindow shadowWindow(const RasterInfo& info, CellWindow w, const Light& light, double relief,
                        std::span<const CellSize> corners) {
    std::int64_t col0 = w.col - 1, row0 = w.row - 1;
    std::int64_t col1 = w.col + w.cols + 1, row1 = w.row + w.rows + 1;
    for (const CellSize& cell : corners) {
        const ShadowReach reach = shadowReach(light, relief, cell);
        col0 = std::min(col0, w.col - reach.west),
        col1 = std::max(col1, w.col + w.cols + reach.east);
        row0 = std::min(row0, w.row - reach.up), row1 = std::max(row1, w.row + w.rows + reach.down);
    }
    col0 = std::max<std::int64_t>(0, col0), row0 = std::max<std::int64_t>(0, row0);
    return {col0, row0, std::min(info.width, col1) - col0, std::min(info.height, row1) - row0};
}

// Multiplies a window of illumination by the share of the lights that reach each cell.
Result<void> addShadows(const Surface& surface, const Ground& ground,
                        const std::vector<Light>& lights, double relief, CellWindow w,
                        BlockView<float> out) {
    const RasterInfo& info = surface.dem->info();
    std::vector<CellSize> corners;
    for (const std::int64_t row : {w.row, w.row + w.rows})
        for (const std::int64_t col : {w.col, w.col + w.cols})
            corners.push_back(ground.at(static_cast<double>(col), static_cast<double>(row)));
    Grid<float> reached(out.rows(), out.cols()), lit(out.rows(), out.cols());
    for (const Light& light : lights) {
        const CellWindow wide = shadowWindow(info, w, light, relief, corners);
        Grid<float> heights(static_cast<std::size_t>(wide.rows),
                            static_cast<std::size_t>(wide.cols));
        if (const auto done = surface.dem->read(0, wide, heights.view()); !done) return done;
        const auto done = ground.forParts(w, [&](CellWindow part, std::span<const CellSize> cells) {
            return castShadows(heights.view(), static_cast<std::size_t>(w.row - wide.row),
                               static_cast<std::size_t>(part.col - wide.col), cells,
                               surface.heightScale, light,
                               lit.view().part(0, static_cast<std::size_t>(part.col - w.col),
                                               lit.rows(), static_cast<std::size_t>(part.cols)));
        });
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
        surface.dem, groundOf(surface), BandInfo{CellType::Float32, -9999.0, ""},
        [scale = surface.heightScale, method = surface.method,
         unit](BlockView<const float> heights, std::span<const CellSize> cells,
               BlockView<float> out) { return slope(heights, cells, scale, method, unit, out); });
}

RasterPtr aspectRaster(const Surface& surface) {
    const auto ground = groundOf(surface);
    // The kernel counts from the CRS's north; convergence leads on to the true one.
    const auto finish = [ground](CellWindow w, BlockView<float> out) -> Result<void> {
        std::vector<float> turn(out.cols());
        for (std::size_t r = 0; r < out.rows(); ++r) {
            ground->convergence(w.row + static_cast<std::int64_t>(r), w.col, turn);
            const auto row = out.row(r);
            for (std::size_t c = 0; c < row.size(); ++c) {
                const float turned = row[c] + turn[c];
                row[c] = turned < 0 ? turned + 360 : turned >= 360 ? turned - 360 : turned;
            }
        }
        return {};
    };
    const RasterInfo& info = surface.dem->info();
    return std::make_shared<DerivedRaster>(
        surface.dem, ground, BandInfo{CellType::Float32, -9999.0, ""},
        [scale = surface.heightScale, method = surface.method](
            BlockView<const float> heights, std::span<const CellSize> cells, BlockView<float> out) {
            return aspect(heights, cells, scale, method, out);
        },
        info.crs && !info.crs->isGeographic() ? Finish(finish) : Finish());
}

RasterPtr hillshadeRaster(const Surface& surface, std::vector<Light> lights,
                          std::optional<double> relief) {
    const auto ground = groundOf(surface);
    const auto kernel = [scale = surface.heightScale, method = surface.method,
                         lights](BlockView<const float> heights, std::span<const CellSize> cells,
                                 BlockView<float> out) {
        return hillshade(heights, cells, scale, method, lights, out);
    };
    const auto finish = [surface, ground, lights, relief](CellWindow w, BlockView<float> out) {
        Result<void> done;
        if (relief) done = addShadows(surface, *ground, lights, *relief, w, out);
        for (std::size_t r = 0; r < out.rows(); ++r) toShadeBytes(out.row(r).data(), out.cols());
        return done;
    };
    return std::make_shared<DerivedRaster>(surface.dem, ground, BandInfo{CellType::UInt8, 0.0, ""},
                                           kernel, finish);
}

}  // namespace ledge::terrain
