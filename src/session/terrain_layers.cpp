#include "session/terrain_layers.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/raster/ground.h"
#include "core/terrain/slope.h"
#include "document/edits/layer_edits.h"
#include "document/edits/light_edits.h"
#include "session/new_layers.h"

namespace ledge::session {
namespace {
doc::Layer sourced(std::string name, doc::Id source, doc::LayerContent content) {
    doc::Layer layer;
    layer.name = std::move(name);
    layer.source = source;
    layer.content = std::move(content);
    return layer;
}
}  // namespace

terrain::Light lightAcross(std::span<const Point> line, const terrain::Light& now) {
    if (line.size() < 2) return now;
    const Point along = line.back() - line.front();
    if (along.x == 0 && along.y == 0) return now;
    const double bearing = std::atan2(along.x, along.y) / crs::kRadiansPerDegree;
    const auto turned = [](double degrees) { return std::fmod(degrees + 720, 360.0); };
    const auto awayFromNorthWest = [](double degrees) {
        const double away = std::abs(degrees - 315);
        return std::min(away, 360 - away);
    };
    const double one = turned(std::round(bearing + 90)), other = turned(one + 180);
    return {awayFromNorthWest(one) < awayFromNorthWest(other) ? one : other, now.altitude};
}

Result<std::vector<doc::Layer>> reliefLayers(const doc::SourceRef& source,
                                             const SourceCache& cache) {
    const auto pyramid = cache.raster(source);
    if (!pyramid) return pyramid.error();
    const auto [low, high] = roughRange(**pyramid);
    const double metres = doc::metresPerHeight(source);
    doc::HeightTint tint;
    const auto limits = roundLimits(low * metres, high * metres);
    tint.style.ramp = heightTint(tint.style.family, limits.first, limits.second);
    doc::Layer shade = sourced(doc::lightName({315, 45}), source.id, doc::Hillshade{});
    shade.blend = doc::Blend::Multiply;
    shade.opacity = 0.45;
    doc::Layer steep = sourced("Steepness tint", source.id, doc::Steepness{});
    steep.blend = doc::Blend::Multiply;
    steep.opacity = 0.15;
    return std::vector{sourced("Height tint", source.id, tint), std::move(shade), std::move(steep)};
}

std::pair<doc::Document, doc::Id> withGroupOf(doc::Document document, const std::string& name,
                                              const std::vector<doc::Layer>& layers) {
    doc::Layer group;
    group.name = name;
    group.content = doc::Group{};
    auto [next, groupId] = doc::addLayer(std::move(document), std::move(group));
    for (const doc::Layer& layer : layers)
        next = doc::addLayer(std::move(next), layer, {groupId, 0}).first;
    return {std::move(next), groupId};
}

Result<doc::Layer> contourLayer(const doc::SourceRef& source, const SourceCache& cache,
                                double scale) {
    const auto pyramid = cache.raster(source);
    if (!pyramid) return pyramid.error();
    const int level = (*pyramid)->levelOf(1024);
    const RasterInfo& info = (*pyramid)->source().info();
    const auto cells =
        (*pyramid)->read(level, {0, 0, (*pyramid)->cols(level), (*pyramid)->rows(level)});
    doc::Contours contours;
    contours.style.thins = true;
    if (cells && cells->rows() > 2 && cells->cols() > 2) {
        CellSize size = Ground(info).at(static_cast<double>(info.width) / 2,
                                        static_cast<double>(info.height) / 2);
        for (double* metres : {&size.xMetres, &size.yMetres, &size.colNorth, &size.rowEast})
            *metres = std::ldexp(*metres, level);
        Grid<float> rise(cells->rows() - 2, cells->cols() - 2);
        const std::vector<CellSize> sizes(rise.rows(), size);
        if (terrain::slope(cells->view(), sizes, doc::metresPerHeight(source),
                           terrain::GradientMethod::Horn, terrain::SlopeUnit::Percent,
                           rise.view())) {
            std::vector<float> tangents;
            for (std::size_t r = 0; r < rise.rows(); ++r)
                for (std::size_t c = 0; c < rise.cols(); ++c)
                    // The sea floor is not what the reader counts lines on.
                    if ((*cells)(r + 1, c + 1) > 0) tangents.push_back(rise(r, c) / 100);
            contours.style.levels.interval = terrain::suggestedInterval(std::move(tangents), scale);
        }
    }
    const double leading =
        contours.style.levels.interval /
        std::pow(10, std::floor(std::log10(contours.style.levels.interval) + 1e-9));
    contours.style.indexEvery = leading > 2.4 && leading < 2.6 ? 4 : 5;
    doc::Layer layer = sourced("Contours " + formatNumber(contours.style.levels.interval) + " m",
                               source.id, contours);
    layer.opacity = 0.55;
    return layer;
}

namespace {
bool showsAPicture(const std::vector<doc::LayerPtr>& layers) {
    for (const doc::DrawnLayer& one : doc::drawnLayers(layers))
        if (const auto* raster = one.layer->as<doc::RasterLayer>(); raster && raster->style.image)
            return true;
    return false;
}

// Over a photograph dark lines at half their strength are lost: light and full ones are not.
void lighten(doc::Layer& layer) {
    doc::ContourStyle& style = layer.as<doc::Contours>()->style;
    style.land = {0xFD, 0xF6, 0xE3};
    style.water = {0xE2, 0xF1, 0xFA};
    layer.opacity = 1;
}
}  // namespace

std::pair<doc::Document, doc::Id> withContours(doc::Document document, doc::Layer contours) {
    if (showsAPicture(document.layers)) lighten(contours);
    return doc::addLayer(std::move(document), std::move(contours));
}

}  // namespace ledge::session
