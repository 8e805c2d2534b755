#include <benchmark/benchmark.h>

#include "core/base/random.h"
#include "core/classify/breaks.h"
#include "core/label/placement.h"
#include "core/symbol/dots.h"

using namespace ledge;

namespace {
// As dense as a map of 1280 x 800 with 600 names, on a page as large as the count asks for.
std::pair<std::vector<label::Request>, Box> names(int count) {
    Random random(3);
    const double side = std::sqrt(count / 600.0);
    const Box page{0, 0, 1280 * side * 0.7, 800 * side * 0.7};
    std::vector<label::Request> out;
    for (int i = 0; i < count; ++i) {
        label::Request request;
        request.rank = random.below(3);
        request.size = random.between(6, 12);
        request.candidates =
            label::aroundPoint({random.between(0, page.xMax), random.between(0, page.yMax)}, 4,
                               {random.between(20, 90), 8, 3});
        out.push_back(std::move(request));
    }
    return {std::move(out), page};
}
double placed(const label::Choice& choice) {
    double sum = 0;
    for (const auto& one : choice) sum += one ? 1 : 0;
    return sum;
}

template <typename Place>
void place(benchmark::State& state, const Place& how) {
    const auto [requests, page] = names(static_cast<int>(state.range(0)));
    label::Choice choice;
    for (auto _ : state) choice = how(requests, std::span<const Box>(), page);
    state.counters["placed"] = placed(choice);
}
void inTurn(benchmark::State& state) { place(state, label::placeInTurn); }
void improved(benchmark::State& state) { place(state, label::place); }
BENCHMARK(inTurn)
    ->Name("labels in turn")
    ->Arg(600)
    ->Arg(2000)
    ->Arg(20000)
    ->Unit(benchmark::kMillisecond);
BENCHMARK(improved)
    ->Name("labels improved")
    ->Arg(600)
    ->Arg(2000)
    ->Arg(20000)
    ->Unit(benchmark::kMillisecond);

const std::vector<double>& million() {
    static const std::vector<double> all = [] {
        Random random(5);
        std::vector<double> out(1'000'000);
        for (double& v : out) v = random.unit() * random.unit() * 1000;
        return out;
    }();
    return all;
}
void sorted(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(classify::Sample(million()).count());
}
BENCHMARK(sorted)->Name("a million numbers sorted")->Unit(benchmark::kMillisecond);
void breaks(benchmark::State& state) {
    const classify::Sample sample(million());
    for (auto _ : state)
        benchmark::DoNotOptimize(
            classify::breaksOf(sample, static_cast<classify::Method>(state.range(0)), 5)
                .has_value());
}
BENCHMARK(breaks)
    ->Name("breaks of a million numbers, 0 natural 1 quantile 3 round")
    ->Arg(0)
    ->Arg(1)
    ->Arg(3)
    ->Unit(benchmark::kMillisecond);

void dots(benchmark::State& state) {
    const Geometry area = Geometry::polygon({{{0, 0}, {9, 1}, {10, 8}, {4, 10}, {1, 6}}});
    const std::int64_t counts[] = {7000, 3000};
    for (auto _ : state) benchmark::DoNotOptimize(strewn(area, counts, 4).at.size());
}
BENCHMARK(dots)->Name("dots, 10 000 strewn")->Unit(benchmark::kMillisecond);
}  // namespace
