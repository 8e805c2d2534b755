#include <benchmark/benchmark.h>

#include <cstring>

#include "core/base/parallel.h"
#include "core/raster/warp.h"
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

void overRows(std::size_t rows, const std::function<void(std::size_t, std::size_t)>& work) {
    parallelRanges(rows, 64, work);
}

// The limit the others are measured against: one pass of reading and writing the same cells.
void memoryCopy(benchmark::State& state) {
    Grid<float> out(kSide + 2, kSide + 2);
    for (auto _ : state) {
        std::memcpy(out.view().row(0).data(), hills().view().row(0).data(),
                    hills().view().rows() * hills().cols() * sizeof(float));
        benchmark::DoNotOptimize(out.view());
    }
}
BENCHMARK(memoryCopy)->Name("memory copy")->Unit(benchmark::kMillisecond)->UseRealTime();

void hillshadeAll(benchmark::State& state) {
    Grid<float> out(kSide, kSide);
    const std::vector<CellSize> cells(kSide, {10, 10});
    std::vector<terrain::Light> lights{{315, 45}};
    if (state.range(0) > 1) lights.push_back({270, 30});
    for (auto _ : state)
        overRows(kSide, [&](std::size_t b, std::size_t e) {
            (void)terrain::hillshade(
                hills().view().part(b, 0, e - b + 2, kSide + 2), std::span(cells).subspan(b, e - b),
                1, terrain::GradientMethod::Horn, lights, out.view().part(b, 0, e - b, kSide))
                .has_value();
        });
}
BENCHMARK(hillshadeAll)
    ->Name("hillshade, lights")
    ->Arg(1)
    ->Arg(2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void slopeAll(benchmark::State& state) {
    Grid<float> out(kSide, kSide);
    const std::vector<CellSize> cells(kSide, {10, 10});
    for (auto _ : state)
        overRows(kSide, [&](std::size_t b, std::size_t e) {
            (void)terrain::slope(hills().view().part(b, 0, e - b + 2, kSide + 2),
                                 std::span(cells).subspan(b, e - b), 1,
                                 terrain::GradientMethod::Horn, terrain::SlopeUnit::Degrees,
                                 out.view().part(b, 0, e - b, kSide))
                .has_value();
        });
}
BENCHMARK(slopeAll)->Name("slope")->Unit(benchmark::kMillisecond)->UseRealTime();

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
