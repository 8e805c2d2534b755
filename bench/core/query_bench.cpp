#include <benchmark/benchmark.h>

#include <boost/geometry.hpp>
#include <boost/geometry/index/rtree.hpp>
#include <numeric>

#include "core/base/parallel.h"
#include "core/base/random.h"
#include "core/derive/joins.h"
#include "core/feature/order.h"
#include "core/geometry/packed_tree.h"
#include "core/query/question.h"

/// A million rows asked, ordered and counted in areas; the packed tree beside Boost's.
namespace {
using namespace ledge;
constexpr std::size_t kMillion = 1'000'000;

const FeatureTable& rows() {
    static const FeatureTable table = [] {
        LayerInfo info;
        info.name = "rows";
        info.fields = {{"a", FieldType::Integer},
                       {"b", FieldType::Real},
                       {"word", FieldType::Text},
                       {"name", FieldType::Text}};
        FeatureTableBuilder builder(info);
        Random random(1);
        for (std::size_t i = 0; i < kMillion; ++i) {
            const std::vector<Value> values{
                std::int64_t(random.below(1000)), random.between(0, 1000),
                "word " + std::to_string(random.below(40)),
                "a name with the number " + std::to_string(random.below(1'000'000))};
            builder.add(static_cast<FeatureKey>(i),
                        Geometry::point({random.between(0, 600), random.between(0, 500)}), values);
        }
        FeatureTable out = builder.finish();
        out.refreshInfo();
        return out;
    }();
    return table;
}

// What nobody can do without: a look at each of a million numbers.
void sum(benchmark::State& state) {
    const Column& first = rows().column(0, 1);
    (void)first;
    for (auto _ : state) {
        double total = 0;
        for (std::size_t run = 0; run < rows().runCount(); ++run)
            for (const double v : rows().column(run, 1).reals()) total += v;
        benchmark::DoNotOptimize(total);
    }
}
BENCHMARK(sum)->Name("sum of a million numbers")->Unit(benchmark::kMillisecond)->UseRealTime();

void ask(benchmark::State& state, const char* text, int comparisons) {
    const auto question = query::Question::condition(text, rows().info);
    if (!question) std::abort();
    setThreadCount(1);
    for (auto _ : state) benchmark::DoNotOptimize(query::rowsWhere(*question, rows()));
    setThreadCount(0);
    // Millions of comparisons a second on one core.
    state.counters["M/s"] = benchmark::Counter(static_cast<double>(comparisons) * 1.0,
                                               benchmark::Counter::kIsIterationInvariantRate);
}
BENCHMARK_CAPTURE(ask, number, "b > 500", 1)
    ->Name("ask a million rows, number")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(ask, three, "a > 100 AND b < 900 AND a <> b", 3)
    ->Name("ask a million rows, three comparisons")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(ask, text, "word = 'word 7'", 1)
    ->Name("ask a million rows, text")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(ask, like, "name LIKE '%number 99%'", 1)
    ->Name("ask a million rows, LIKE")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(ask, folded, "CASEI(word) = CASEI('WORD 7')", 1)
    ->Name("ask a million rows, whatever the case")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void order(benchmark::State& state, std::size_t field) {
    std::vector<std::uint32_t> all(kMillion);
    std::iota(all.begin(), all.end(), 0U);
    for (auto _ : state) benchmark::DoNotOptimize(ordered(rows(), {{field, false}}, all));
}
BENCHMARK_CAPTURE(order, number, 1)
    ->Name("order a million rows, number")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
BENCHMARK_CAPTURE(order, text, 3)
    ->Name("order a million rows, text")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

const FeatureTable& areas() {
    static const FeatureTable table = [] {
        FeatureList list;
        for (int i = 0; i < 3000; ++i) {
            const Point p{double(i % 60) * 10 + 5, double(i / 60) * 10 + 5};
            std::vector<Point> ring;
            for (int k = 0; k < 24; ++k) {
                const double a = k * 0.2617993877991494, r = 3 + k % 3;
                ring.push_back(p + Point{r * std::cos(a), r * std::sin(a)});
            }
            list.features.push_back({i, Geometry::polygon({ring}), {}});
        }
        return FeatureTable(list);
    }();
    return table;
}
void pointsInAreas(benchmark::State& state) {
    for (auto _ : state) {
        derive::Remarks remarks;
        benchmark::DoNotOptimize(derive::withPointsWithin(areas(), rows(), {}, remarks));
    }
}
BENCHMARK(pointsInAreas)
    ->Name("points, a million in 3000 areas")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

const std::vector<Box>& boxes() {
    static const std::vector<Box> all = [] {
        std::vector<Box> out;
        Random random(2);
        for (std::size_t i = 0; i < kMillion; ++i) {
            const Point p{random.between(0, 1000), random.between(0, 1000)};
            out.push_back({p.x, p.y, p.x + random.between(0, 1), p.y + random.between(0, 1)});
        }
        return out;
    }();
    return all;
}
// A thousand extents of a thousandth of all each.
template <typename Meeting>
void searchAll(benchmark::State& state, const Meeting& meeting) {
    for (auto _ : state) {
        Random random(3);
        std::size_t found = 0;
        for (int i = 0; i < 1000; ++i) {
            const Point p{random.between(0, 970), random.between(0, 970)};
            found += meeting(Box{p.x, p.y, p.x + 31, p.y + 31});
        }
        benchmark::DoNotOptimize(found);
    }
}
namespace bg = boost::geometry;
using BoostPoint = bg::model::point<double, 2, bg::cs::cartesian>;
using BoostBox = bg::model::box<BoostPoint>;
using Entry = std::pair<BoostBox, std::uint32_t>;

void boostSearch(benchmark::State& state) {
    static const auto tree = [] {
        std::vector<Entry> entries;
        for (std::size_t i = 0; i < boxes().size(); ++i) {
            const Box& b = boxes()[i];
            entries.emplace_back(BoostBox({b.xMin, b.yMin}, {b.xMax, b.yMax}), std::uint32_t(i));
        }
        return bg::index::rtree<Entry, bg::index::rstar<16>>(entries.begin(), entries.end());
    }();
    searchAll(state, [](const Box& b) {
        std::vector<Entry> out;
        tree.query(bg::index::intersects(BoostBox({b.xMin, b.yMin}, {b.xMax, b.yMax})),
                   std::back_inserter(out));
        return out.size();
    });
}
BENCHMARK(boostSearch)
    ->Name("search a million boxes by Boost's tree")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
void packedSearch(benchmark::State& state) {
    static const PackedTree tree(boxes());
    searchAll(state, [](const Box& b) {
        std::vector<std::size_t> out;
        tree.meeting(b, [&](std::size_t i) {
            out.push_back(i);
            return true;
        });
        return out.size();
    });
}
BENCHMARK(packedSearch)
    ->Name("search a million boxes by the packed tree")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
void packedBuild(benchmark::State& state) {
    for (auto _ : state) benchmark::DoNotOptimize(PackedTree(boxes()));
}
BENCHMARK(packedBuild)
    ->Name("search tree, packed, built of a million boxes")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
}  // namespace
