#include <benchmark/benchmark.h>

#include <QGuiApplication>

#include "../../tests/support/coarse_demo.h"
#include "../../tests/support/crowded_demo.h"

/// All names of the demo on one map: placed in turn, and improved.
namespace {
using namespace ledge;

void labelsOfTheDemo(benchmark::State& state) {
    // Fonts want an application, and this one no display.
    qputenv("QT_QPA_PLATFORM", "offscreen");
    static int count = 1;
    static char name[] = "bench", *words[] = {name, nullptr};
    static const QGuiApplication application(count, words);
    static const test::CrowdedDemo demo(test::coarseDemo());
    const auto effort = state.range(0) == 0 ? label::Effort::InTurn : label::Effort::Improved;
    std::size_t placed = 0;
    for (auto _ : state) placed = demo.labels(60000, effort).labels.size();
    state.counters["placed"] = double(placed);
}
BENCHMARK(labelsOfTheDemo)
    ->Name("labels of the demo, every set lit, 0 in turn 1 improved")
    ->Arg(0)
    ->Arg(1)
    ->Unit(benchmark::kMillisecond);
}  // namespace
