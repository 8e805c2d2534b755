#include <benchmark/benchmark.h>

#include <QPainter>
#include <filesystem>

#include "carto/map_renderer.h"
#include "carto/vector_painter.h"
#include "core/globe/mapping.h"
#include "io/registry.h"

/// 550 000 corners of lands all over the earth, over both poles and the antimeridian: read, cut,
/// projected and drawn on a map of the world.
namespace {
using namespace ledge;
namespace fs = std::filesystem;

constexpr int kLands = 255, kCorners = 2157;

FeatureTable lands() {
    FeatureList list;
    list.info.name = "lands";
    list.info.crs = *crs::crsFromCode(4326);
    list.info.geometry = GeometryType::Polygon;
    list.info.fields = {{"name", FieldType::Text}, {"people", FieldType::Integer}};
    for (int i = 0; i < kLands; ++i) {
        // Spread evenly by the golden angle.
        const double z = 1 - 2 * (i + 0.5) / kLands;
        const Point middle{std::remainder(i * 137.50776405, 360.0), std::asin(z) * 180 / kPi};
        const double radius = 3 + (i * 7 % 5);
        std::vector<Point> ring;
        for (int k = 0; k < kCorners; ++k) {
            const double a = 360.0 * k / kCorners;
            const double shore = radius * (1 + 0.2 * std::sin(a * kPi / 60 + i) +
                                           0.03 * std::sin(a * 1.7) + 0.01 * std::sin(a * 11.3));
            Point p = globe::arcFrom(middle, a, shore);
            p.x = std::remainder(p.x, 360.0);
            ring.push_back(p);
        }
        list.features.push_back({i + 1,
                                 Geometry::polygon({ring}),
                                 {"land " + std::to_string(i), std::int64_t{i} * 1000}});
    }
    return FeatureTable(std::move(list));
}

const FeatureTable& countries() {
    static const FeatureTable made = lands();
    return made;
}

constexpr const char* kMaps[] = {"world:robinson@150", "world:equal-earth", "EPSG:3857",
                                 "world:azimuthal-equal-area@0,90"};

carto::MapFrame frameOf(const crs::CrsPtr& map) {
    const auto made = globe::mapped(countries(), map, 5000);
    carto::MapFrame frame;
    frame.crs = map;
    frame.widthPx = 1280, frame.heightPx = 800;
    frame.view = carto::viewOf(made->table.info.extent, map, 1280, 800, frame.pxPerMm);
    return frame;
}

void draw(const carto::MapFrame& frame, globe::Mapped mapped) {
    doc::MapFeatures features(std::make_shared<const FeatureTable>(std::move(mapped.table)));
    features.seams = std::move(mapped.seams);
    QImage image(1280, 800, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    QPainter painter(&image);
    doc::VectorStyle style;
    style.look.strokeMm = 0.15;
    benchmark::DoNotOptimize(carto::paintFeatures(painter, frame, features, style, {}).has_value());
}

void project(benchmark::State& state) {
    const auto map = *crs::parseCrs(kMaps[state.range(0)]);
    const auto way = *crs::Transformation::between(countries().info.crs, map);
    std::optional<std::size_t> lost;
    for (auto _ : state)
        benchmark::DoNotOptimize(
            countries()
                .moved([&](std::span<Point> points) { way.forward(points); }, lost)
                .has_value());
}
BENCHMARK(project)
    ->Name("world: project 550 000 corners alone")
    ->DenseRange(0, 3)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void paint(benchmark::State& state) {
    const auto map = *crs::parseCrs(kMaps[state.range(0)]);
    const auto frame = frameOf(map);
    const auto made = *globe::mapped(countries(), map, frame.tolerance());
    for (auto _ : state) draw(frame, made);
}
BENCHMARK(paint)
    ->Name("world: paint alone")
    ->DenseRange(0, 3)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void show(benchmark::State& state) {
    const auto map = *crs::parseCrs(kMaps[state.range(0)]);
    const auto frame = frameOf(map);
    for (auto _ : state) draw(frame, *globe::mapped(countries(), map, frame.tolerance()));
}
BENCHMARK(show)
    ->Name("world: cut, project and paint")
    ->DenseRange(0, 3)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void open(benchmark::State& state) {
    const fs::path path = fs::temp_directory_path() / "ledge_bench_world.geojson";
    if (!io::writeTable(countries(), path, {})) std::abort();
    for (auto _ : state) {
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(path));
        benchmark::DoNotOptimize((*readAll(*source, 0))->size());
    }
    state.counters["MB"] = static_cast<double>(fs::file_size(path)) / 1e6;
    fs::remove(path);
}
BENCHMARK(open)->Name("world: open as GeoJSON")->Unit(benchmark::kMillisecond)->UseRealTime();
}  // namespace
