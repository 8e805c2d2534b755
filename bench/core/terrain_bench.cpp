#include <benchmark/benchmark.h>

#include <cstring>

#include "core/base/parallel.h"
#include "core/raster/warp.h"
#include "core/terrain/aspect.h"
#include "core/terrain/contours.h"
#include "core/terrain/hillshade.h"

using namespace ledge;

namespace {
constexpr std::size_t kSide = 2000;

// Hills without noise, so that contours have a natural length.
const Grid<float>& hills() {
    static const Grid<float> grid = [] {
        Grid<float> z(kSide + 2, kSide + 2);
        for (std::size_t r = 0; r < z.rows(); ++r)
            for (std::size_t c = 0; c < z.cols(); ++c)
                z(r, c) = static_cast<float>(
                    400 + 300 * std::sin(double(r) / 90) * std::cos(double(c) / 70) +
                    60 * std::sin(double(r + 2 * c) / 23));
        return z;
    }();
    return grid;
}

// What derivatives of 100 million cells are measured against: copying their input.
constexpr std::size_t kLargeRows = 10000, kLargeCols = 10000;
const Grid<float>& land() {
    static const Grid<float> grid = [] {
        Grid<float> z(kLargeRows + 2, kLargeCols + 2);
        parallelRanges(z.rows(), 64, [&](std::size_t begin, std::size_t end) {
            for (std::size_t r = begin; r < end; ++r)
                for (std::size_t c = 0; c < z.cols(); ++c) z(r, c) = hills()(r % kSide, c % kSide);
        });
        return z;
    }();
    return grid;
}
Grid<float>& derived() {
    static Grid<float> grid(kLargeRows, kLargeCols, 1);  // touched, so that its pages are there
    return grid;
}

void copyLand(benchmark::State& state) {
    (void)derived(), (void)land();
    for (auto _ : state) {
        parallelRanges(kLargeRows, 64, [](std::size_t begin, std::size_t end) {
            for (std::size_t r = begin; r < end; ++r)
                std::memcpy(derived().row(r).data(), land().row(r).data(),
                            kLargeCols * sizeof(float));
        });
        benchmark::DoNotOptimize(derived().view());
    }
}
BENCHMARK(copyLand)
    ->Name("copy of 100 million heights")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

using RowsWork =
    std::function<void(BlockView<const float>, std::span<const CellSize>, BlockView<float>)>;
void overLand(benchmark::State& state, const RowsWork& work) {
    const std::vector<CellSize> cells(kLargeRows, {10, 10});
    for (auto _ : state)
        parallelRanges(kLargeRows, 64, [&](std::size_t b, std::size_t e) {
            work(land().view().part(b, 0, e - b + 2, kLargeCols + 2),
                 std::span(cells).subspan(b, e - b),
                 derived().view().part(b, 0, e - b, kLargeCols));
        });
}

void hillshadeAll(benchmark::State& state) {
    std::vector<terrain::Light> lights{{315, 45}};
    if (state.range(0) > 1) lights.push_back({270, 30});
    overLand(state, [&](auto heights, auto cells, auto out) {
        (void)terrain::hillshade(heights, cells, 1, terrain::GradientMethod::Horn, lights, out)
            .has_value();
    });
}
BENCHMARK(hillshadeAll)
    ->Name("hillshade of 100 million, lights")
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void slopeAll(benchmark::State& state) {
    overLand(state, [](auto heights, auto cells, auto out) {
        (void)terrain::slope(heights, cells, 1, terrain::GradientMethod::Horn,
                             terrain::SlopeUnit::Degrees, out)
            .has_value();
    });
}
BENCHMARK(slopeAll)->Name("slope of 100 million")->Unit(benchmark::kMillisecond)->UseRealTime();

void aspectAll(benchmark::State& state) {
    overLand(state, [](auto heights, auto cells, auto out) {
        (void)terrain::aspect(heights, cells, 1, terrain::GradientMethod::Horn, out).has_value();
    });
}
BENCHMARK(aspectAll)->Name("aspect of 100 million")->Unit(benchmark::kMillisecond)->UseRealTime();

// What contours cannot do without: each square's smallest and largest height, once.
void scanSquares(benchmark::State& state) {
    const auto& z = hills();
    for (auto _ : state) {
        double sum = 0;
        for (std::size_t r = 0; r + 1 < z.rows(); ++r) {
            const auto a = z.row(r), b = z.row(r + 1);
            for (std::size_t c = 0; c + 1 < z.cols(); ++c) {
                const float low = std::min(std::min(a[c], a[c + 1]), std::min(b[c], b[c + 1]));
                const float high = std::max(std::max(a[c], a[c + 1]), std::max(b[c], b[c + 1]));
                sum += static_cast<double>(high - low);
            }
        }
        benchmark::DoNotOptimize(sum);
    }
}
BENCHMARK(scanSquares)
    ->Name("scan of each square's range")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void contoursAll(benchmark::State& state) {
    std::size_t vertices = 0;
    for (auto _ : state) {
        const auto lines =
            terrain::contours(hills().view(), {}, {700.0 / double(state.range(0)), 0, {}});
        vertices = 0;
        for (const auto& line : *lines) vertices += line.points.size();
    }
    state.counters["vertices"] = double(vertices);
}
BENCHMARK(contoursAll)
    ->Name("contours, levels")
    ->Arg(10)
    ->Arg(100)
    ->Arg(1000)
    ->MinTime(2)  // the first runs wait for memory
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void warpAll(benchmark::State& state) {
    RasterInfo info;
    info.crs = *crs::crsFromCode(32629);
    info.toWorld = {10, 0, 400000, 0, -10, 6830000};
    static const auto source = std::make_shared<MemoryRaster>(info, hills());
    static const Pyramid pyramid(source, 0);
    const auto way = crs::Transformation::between(info.crs, *crs::crsFromCode(3857));
    const auto grid = suggestedGrid(source->info(), *way);
    (void)warped(pyramid, *way, *grid, Resampling::Bilinear).has_value();  // fills the kept level
    for (auto _ : state)
        benchmark::DoNotOptimize(
            warped(pyramid, *way, *grid, static_cast<Resampling>(state.range(0))).has_value());
}
BENCHMARK(warpAll)
    ->Name("reproject, bilinear 1 or cubic 2")
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
}  // namespace
