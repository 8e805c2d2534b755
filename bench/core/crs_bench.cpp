#include <benchmark/benchmark.h>

#include <cmath>

#include "core/base/random.h"
#include "core/crs/transformation.h"

using namespace ledge;

namespace {
constexpr std::size_t kCount = 20000;

std::vector<Point> places(double lonLow, double lonHigh, double latLow, double latHigh) {
    Random random(1);
    std::vector<Point> out(kCount);
    for (Point& p : out) p = {random.between(lonLow, lonHigh), random.between(latLow, latHigh)};
    return out;
}

// The limit the others are measured against: one sine and one cosine for each point.
void sineCosine(benchmark::State& state) {
    auto points = places(-12, -6, 50, 70);
    for (auto _ : state) {
        for (Point& p : points) {
            const double s = std::sin(p.x), c = std::cos(p.x);
            benchmark::DoNotOptimize(s + c);
        }
    }
}
BENCHMARK(sineCosine)->Name("sine and cosine")->Unit(benchmark::kMicrosecond);

void project(benchmark::State& state) {
    const auto crs = *crs::crsFromCode(static_cast<int>(state.range(0)));
    const auto projection = crs::makeProjection(crs->method, crs->parameters, crs->ellipsoid);
    const auto from = places(-12, -6, 50, 70);
    auto projected = from;
    (*projection)->forward(projected);
    auto points = from;
    for (auto _ : state) {
        points = state.range(1) == 0 ? from : projected;
        if (state.range(1) == 0)
            (*projection)->forward(points);
        else
            (*projection)->inverse(points);
        benchmark::DoNotOptimize(points.data());
    }
}
BENCHMARK(project)
    ->Name("project, EPSG code, 0 forward 1 inverse")
    ->ArgsProduct({{32629, 3034, 3395, 3857}, {0, 1}})
    ->Unit(benchmark::kMicrosecond);
}  // namespace
