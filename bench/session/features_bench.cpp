#include <benchmark/benchmark.h>

#include <fcntl.h>
#include <sys/resource.h>
#include <unistd.h>

#include <filesystem>
#include <fstream>

#include "carto/map_renderer.h"
#include "core/globe/reproject.h"
#include "document/edits/layer_edits.h"
#include "io/registry.h"
#include "session/converting.h"
#include "session/source_cache.h"

/// A million polygons of eight corners with three columns: opened, moved to another CRS, drawn.
namespace {
using namespace ledge;
namespace fs = std::filesystem;

constexpr int kFieldsAcross = 1000;

const fs::path& file() {
    static const fs::path path = [] {
        FeatureTableBuilder builder([] {
            LayerInfo info;
            info.name = "fields";
            info.crs = *crs::crsFromCode(32629);
            info.fields = {{"kind", FieldType::Text},
                           {"number", FieldType::Integer},
                           {"yield", FieldType::Real}};
            return info;
        }());
        for (int r = 0; r < kFieldsAcross; ++r)
            for (int c = 0; c < kFieldsAcross; ++c) {
                std::vector<Point> ring;
                for (int k = 0; k < 8; ++k) {
                    const double a = k * 0.785398163397448, radius = 40 + (r * 7 + c * 3 + k) % 9;
                    ring.push_back({400000 + c * 100 + radius * std::cos(a),
                                    6700000 + r * 100 + radius * std::sin(a)});
                }
                const std::vector<Value> values{"kind " + std::to_string((r + c) % 12),
                                                std::int64_t{r} * kFieldsAcross + c, r * 0.37 + c};
                builder.add(r * kFieldsAcross + c + 1, Geometry::polygon({ring}), values);
            }
        const fs::path out = fs::temp_directory_path() / "ledge_bench_fields.gpkg";
        fs::remove(out);  // written over, its pages would lie in another order
        if (!io::writeTable(builder.finish(), out, {})) std::abort();
        return out;
    }();
    return path;
}

// The system forgets the file, so that it comes from the disk, as for who opens it first. What is
// still to be written is not forgotten.
void forgetFile() {
    const int handle = open(file().c_str(), O_RDONLY);
    (void)fdatasync(handle);
    (void)posix_fadvise(handle, 0, 0, POSIX_FADV_DONTNEED);
    close(handle);
}
void readBytes() {
    std::ifstream in(file(), std::ios::binary);
    std::vector<char> buffer(1 << 20);
    while (in.read(buffer.data(), static_cast<std::streamsize>(buffer.size())) || in.gcount() > 0)
        benchmark::DoNotOptimize(buffer.data());
}

// What nobody can do without: every byte of the file, read once.
void readFile(benchmark::State& state) {
    (void)file();
    for (auto _ : state) readBytes();
    state.counters["MB"] = static_cast<double>(fs::file_size(file())) / 1e6;
}
BENCHMARK(readFile)
    ->Name("read of a million polygons' bytes")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void readFromDisk(benchmark::State& state) {
    for (auto _ : state) {
        state.PauseTiming();
        forgetFile();
        state.ResumeTiming();
        readBytes();
    }
}
BENCHMARK(readFromDisk)
    ->Name("file of a million polygons, from the disk: its bytes")
    ->Unit(benchmark::kMillisecond)
    ->Iterations(8)
    ->UseRealTime();

TablePtr table() {
    static const TablePtr read = [] {
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(file()));
        return *readAll(*source, 0);
    }();
    return read;
}

void openTable(benchmark::State& state) {
    (void)file();
    std::size_t bytes = 0;
    for (auto _ : state) {
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(file()));
        const auto read = readAll(*source, 0);
        bytes = (*read)->bytes();
        benchmark::DoNotOptimize(read);
    }
    state.counters["of_the_file"] =
        static_cast<double>(bytes) / static_cast<double>(fs::file_size(file()));
}
BENCHMARK(openTable)->Name("million polygons: open")->Unit(benchmark::kMillisecond)->UseRealTime();

void moveTable(benchmark::State& state) {
    const TablePtr all = table();
    for (auto _ : state)
        benchmark::DoNotOptimize(globe::reprojected(*all, *crs::crsFromCode(3035)).has_value());
}
BENCHMARK(moveTable)
    ->Name("million polygons: reproject")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void indexTable(benchmark::State& state) {
    const TablePtr all = table();
    for (auto _ : state) benchmark::DoNotOptimize(FeatureIndex(*all));
}
BENCHMARK(indexTable)
    ->Name("million polygons: index")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void writeAgain(benchmark::State& state) {
    const TablePtr all = table();
    const fs::path out = fs::temp_directory_path() / "ledge_bench_again.gpkg";
    for (auto _ : state) {
        fs::remove(out);
        benchmark::DoNotOptimize(io::writeTable(*all, out, {}).has_value());
    }
    fs::remove(out);
}
BENCHMARK(writeAgain)
    ->Name("million polygons: write")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

// File to file in another CRS: read, reprojected and written at once.
void convertFile(benchmark::State& state) {
    const auto source = std::get<FeatureSourcePtr>(*io::openSource(file()));
    const fs::path out = fs::temp_directory_path() / "ledge_bench_moved.gpkg";
    session::Converting how;
    how.to = *crs::crsFromCode(3035);
    for (auto _ : state) {
        fs::remove(out);
        benchmark::DoNotOptimize(session::convertInParts(*source, 0, how, out, {}).has_value());
    }
    fs::remove(out);
}
BENCHMARK(convertFile)
    ->Name("million polygons: convert to another CRS")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

// What a map in another CRS needs beside the table: 0 worked out, 1 as it was kept.
void lookAgain(benchmark::State& state) {
    const fs::path folder = fs::temp_directory_path() / "ledge_bench_shapes";
    const bool isKept = state.range(0) == 1;
    doc::SourceRef source;
    source.path = file();
    const auto look = [&](session::SourceCache& cache) {
        return cache.features(source, *crs::crsFromCode(3035), 10).has_value();
    };
    if (isKept) {
        session::SourceCache first;
        first.keepShapesIn(session::ShapeStore(folder));
        (void)look(first);
    }
    for (auto _ : state) {
        state.PauseTiming();
        session::SourceCache cache;
        if (isKept) cache.keepShapesIn(session::ShapeStore(folder));
        (void)cache.table(source).has_value();
        state.ResumeTiming();
        benchmark::DoNotOptimize(look(cache));
    }
    fs::remove_all(folder);
}
BENCHMARK(lookAgain)
    ->Name("million polygons: in the map's CRS, 0 worked out 1 kept")
    ->Arg(0)
    ->Arg(1)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

struct Map {
    std::shared_ptr<session::SourceCache> cache = std::make_shared<session::SourceCache>();
    doc::Document document;
    carto::MapFrame frame;

    explicit Map(double scale) {
        document.mapCrs = "EPSG:32629";
        doc::SourceRef source;
        source.path = file();
        auto [next, id] = doc::addSource(document, source);
        doc::Layer layer;
        layer.source = id;
        doc::VectorLayer vector;
        vector.geometry = GeometryType::Polygon;
        layer.content = vector;
        document = doc::addLayer(next, layer).first;
        frame.crs = *crs::crsFromCode(32629);
        frame.widthPx = 1280, frame.heightPx = 800;
        frame.view = {{450000, 6750000}, scale, 0};
        (void)cache->features(document.sources.front(), frame.crs).has_value();
    }
};
constexpr double kScales[] = {500000, 20000, 150000};

// All of them in sight, a part of them, and so many that each is a few pixels large.
void drawTable(benchmark::State& state) {
    const Map shown(kScales[state.range(0)]);
    for (auto _ : state) {
        carto::MapRenderer renderer(shown.cache);
        carto::MapReport report;
        benchmark::DoNotOptimize(
            renderer.picture(shown.document, shown.document.layers, shown.frame, {}, report)
                .has_value());
    }
}
BENCHMARK(drawTable)
    ->Name("million polygons: draw, 0 all 1 some 2 between")
    ->DenseRange(0, 2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

// From a file that nobody has read yet to the first picture of all of it.
void firstSight(benchmark::State& state) {
    for (auto _ : state) {
        state.PauseTiming();
        forgetFile();
        state.ResumeTiming();
        const Map shown(kScales[0]);
        carto::MapRenderer renderer(shown.cache);
        carto::MapReport report;
        benchmark::DoNotOptimize(
            renderer.picture(shown.document, shown.document.layers, shown.frame, {}, report)
                .has_value());
    }
}
BENCHMARK(firstSight)
    ->Name("file of a million polygons, from the disk: opened and drawn")
    ->Unit(benchmark::kMillisecond)
    ->Iterations(8)
    ->UseRealTime();

// The map moved by 40 pixels at a time, as a hand moves it.
void panTable(benchmark::State& state) {
    const Map shown(kScales[state.range(0)]);
    carto::MapRenderer renderer(shown.cache, carto::MapRenderer::Keeping::Tiles);
    const carto::Lattice lattice(shown.frame);
    carto::PixelRect pixels = lattice.pixelsOf(carto::Lattice::aligned(shown.frame));
    carto::MapReport report;
    (void)renderer
        .picture(shown.document, shown.document.layers, lattice.frameOf(pixels), {}, report)
        .has_value();
    for (auto _ : state) {
        pixels.left += 40;
        benchmark::DoNotOptimize(
            renderer
                .picture(shown.document, shown.document.layers, lattice.frameOf(pixels), {}, report)
                .has_value());
    }
}
BENCHMARK(panTable)
    ->Name("million polygons: pan by 40 pixels, 0 all 1 some 2 between")
    ->DenseRange(0, 2)
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
}  // namespace
