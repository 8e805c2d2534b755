#include <benchmark/benchmark.h>

#include <cmath>

#include "carto/map_renderer.h"

using namespace ledge;

namespace {
class Island final : public doc::DrawingData {
public:
    Island() {
        Grid<float> z(2400, 3600);
        for (std::size_t r = 0; r < z.rows(); ++r)
            for (std::size_t c = 0; c < z.cols(); ++c)
                z(r, c) = static_cast<float>(
                    150 + 200 * std::sin(double(r) / 90) * std::cos(double(c) / 70) +
                    25 * std::sin(double(r + 2 * c) / 23));
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 482000, 0, -10, 6812000};
        m_pyramid = std::make_shared<Pyramid>(std::make_shared<MemoryRaster>(info, std::move(z)), 0,
                                              20'000'000);
    }
    Result<std::shared_ptr<const Pyramid>> raster(const doc::SourceRef&, int) const override {
        return m_pyramid;
    }
    Result<std::shared_ptr<const doc::MapFeatures>>
    features(const doc::SourceRef&, const crs::CrsPtr&, double) const override {
        return Error{ErrorCode::NotFound, "features", "there are none here", ""};
    }
    std::uint64_t version(const doc::SourceRef&) const override { return 0; }

private:
    std::shared_ptr<const Pyramid> m_pyramid;
};

carto::MapFrame frame() {
    carto::MapFrame out;
    out.crs = *crs::crsFromCode(32629);
    out.view = {{500000, 6800000}, 60000, 0};
    out.widthPx = 1280, out.heightPx = 800;
    return out;
}

doc::LayerPtr layer(doc::Id id, doc::LayerContent content, doc::Blend blend, double opacity) {
    auto out = std::make_shared<doc::Layer>();
    out->id = id;
    out->source = 1;
    out->content = std::move(content);
    out->blend = blend;
    out->opacity = opacity;
    return out;
}

doc::Document document(const doc::LayerContent& top, doc::Blend blend) {
    doc::Document out;
    out.mapCrs = "EPSG:32629";
    doc::SourceRef source;
    source.id = 1;
    out.sources = {source};
    doc::HeightTint tint;
    tint.style.ramp = heightTint("humid", -100, 400);
    out.layers = {layer(4, doc::Steepness{}, doc::Blend::Multiply, 0.35), layer(3, top, blend, 0.6),
                  layer(2, tint, doc::Blend::Normal, 1)};
    return out;
}

// Turning the sun dial: the light changes, height tint and steepness are still right.
void turnLight(benchmark::State& state) {
    carto::MapRenderer renderer(std::make_shared<Island>());
    carto::MapReport report;
    double azimuth = 0;
    const auto draw = [&] {
        doc::Hillshade shade;
        shade.style.lights = {{azimuth += 7, 45}};
        const auto d = document(shade, doc::Blend::Multiply);
        benchmark::DoNotOptimize(renderer.picture(d, d.layers, frame(), {}, report).has_value());
    };
    draw();  // fills what is kept
    for (auto _ : state) draw();
}
BENCHMARK(turnLight)
    ->Name("draw 1280 x 800: the live relief after turning its light")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();

void dragInterval(benchmark::State& state) {
    carto::MapRenderer renderer(std::make_shared<Island>());
    carto::MapReport report;
    double interval = 20;
    const auto draw = [&] {
        doc::Contours contours;
        contours.style.levels.interval = interval = interval > 30 ? 20 : interval + 0.5;
        contours.style.hasLabels = false;  // type needs an application
        const auto d = document(contours, doc::Blend::Normal);
        benchmark::DoNotOptimize(renderer.picture(d, d.layers, frame(), {}, report).has_value());
    };
    draw();
    for (auto _ : state) draw();
}
BENCHMARK(dragInterval)
    ->Name("draw 1280 x 800: contours after dragging their interval")
    ->Unit(benchmark::kMillisecond)
    ->UseRealTime();
}  // namespace
