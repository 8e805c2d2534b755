#include <benchmark/benchmark.h>

#include <cmath>

#include "core/base/random.h"
#include "core/crs/geodesic.h"
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
    ->ArgsProduct({{32629, 3034, 3035, 3395, 3857, 28992, 2056}, {0, 1}})
    ->Unit(benchmark::kMicrosecond);

// Pairs all over the earth; every tenth nearly antipodal.
std::vector<std::pair<Point, Point>> pairs() {
    Random random(2);
    std::vector<std::pair<Point, Point>> out(kCount);
    for (std::size_t i = 0; i < kCount; ++i) {
        out[i].first = {random.between(-180, 180), random.between(-89, 89)};
        out[i].second = {random.between(-180, 180), random.between(-89, 89)};
        if (i % 10 == 0)
            out[i].second = {out[i].first.x + 180 + random.between(-0.5, 0.5),
                             -out[i].first.y + random.between(-0.5, 0.5)};
    }
    return out;
}

void geodesicInverse(benchmark::State& state) {
    const crs::Geodesic geodesic{crs::Ellipsoid{}};
    const auto from = pairs();
    for (auto _ : state)
        for (const auto& [a, b] : from) benchmark::DoNotOptimize(geodesic.inverse(a, b).distance);
}
BENCHMARK(geodesicInverse)->Name("geodesic inverse")->Unit(benchmark::kMicrosecond);

void geodesicDirect(benchmark::State& state) {
    const crs::Geodesic geodesic{crs::Ellipsoid{}};
    const auto from = pairs();
    for (auto _ : state)
        for (const auto& [a, b] : from)
            benchmark::DoNotOptimize(geodesic.direct(a, b.x, 1e5 * (90 + b.y)).at.x);
}
BENCHMARK(geodesicDirect)->Name("geodesic direct")->Unit(benchmark::kMicrosecond);

void shiftDatum(benchmark::State& state) {
    const auto way = crs::Transformation::between(*crs::crsFromCode(4230), *crs::crsFromCode(4326));
    const auto from = places(-6, 12, 36, 60);
    auto points = from;
    for (auto _ : state) {
        points = from;
        way->forward(points);
        benchmark::DoNotOptimize(points.data());
    }
}
BENCHMARK(shiftDatum)->Name("datum shift, ED50 to WGS 84")->Unit(benchmark::kMicrosecond);
}  // namespace
