#include <benchmark/benchmark.h>

#include <cstring>

#include "core/raster/reprojected_raster.h"

using namespace ledge;

namespace {
constexpr std::size_t kReprojectSide = 10000;

const RasterPtr& dem() {
    static const RasterPtr raster = [] {
        RasterInfo info;
        info.format = "memory";
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 350000, 0, -10, 6900000};
        info.bands = {{CellType::Float32, kNaN, "metre"}};
        Grid<float> cells(kReprojectSide, kReprojectSide);
        for (std::size_t r = 0; r < kReprojectSide; ++r)
            for (std::size_t c = 0; c < kReprojectSide; ++c)
                cells(r, c) = static_cast<float>((r * 7 + c * 13) % 800);
        return std::make_shared<MemoryRaster>(info, std::move(cells));
    }();
    return raster;
}

// The limit: copying the same cells in memory.
void copyAll(benchmark::State& state) {
    std::vector<float> from(kReprojectSide * kReprojectSide, 1), to(kReprojectSide * kReprojectSide);
    for (auto _ : state) {
        std::memcpy(to.data(), from.data(), from.size() * sizeof(float));
        benchmark::DoNotOptimize(to.data());
    }
}
BENCHMARK(copyAll)->Name("memory copy, 100 million cells")->Unit(benchmark::kSecond)->UseRealTime();

void reprojectAll(benchmark::State& state) {
    const auto way = crs::Transformation::between(dem()->info().crs, *crs::crsFromCode(3034));
    auto grid = *suggestedGrid(dem()->info(), *way);
    grid.rows = grid.cols = kReprojectSide;
    const ReprojectedRaster moved(dem(), *way, *crs::crsFromCode(3034), grid,
                                  static_cast<Resampling>(state.range(0)));
    Grid<float> rows(64, kReprojectSide);
    for (auto _ : state)
        for (std::size_t row = 0; row + 64 <= kReprojectSide; row += 64) {
            const auto done = moved.read(
                0, {0, static_cast<std::int64_t>(row), static_cast<std::int64_t>(kReprojectSide), 64},
                rows.view());
            benchmark::DoNotOptimize(done.has_value());
        }
}
BENCHMARK(reprojectAll)
    ->Name("reproject 100 million cells, 0 nearest 1 bilinear 2 cubic")
    ->Arg(0)
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kSecond)
    ->UseRealTime();
}  // namespace
