#include "document/edits/light_edits.h"

#include <algorithm>
#include <array>

#include "core/base/numbers.h"
#include "document/edits/layer_edits.h"

namespace ledge::doc {
namespace {
constexpr std::array<terrain::Light, 6> kUsual{
    {{315, 45}, {270, 40}, {0, 40}, {45, 40}, {90, 30}, {225, 40}}};

constexpr double kUsualOpacity = 0.5;

// Until azimuths were named with three digits.
std::string formerName(const terrain::Light& light, const std::string& prefix = {}) {
    return (prefix.empty() ? "Light" : prefix) + " " + formatNumber(light.azimuth, {0, false}) +
           "/" + formatNumber(light.altitude, {0, false});
}

Document withShade(Document document, Id id,
                   const std::function<void(Layer&, HillshadeStyle&)>& change) {
    return withLayer(std::move(document), id, [&](Layer& layer) {
        if (auto* shade = layer.as<Hillshade>()) change(layer, shade->style);
    });
}
}  // namespace

std::string lightNumbers(const terrain::Light& light) {
    std::string azimuth = formatNumber(light.azimuth, {0, false});
    azimuth.insert(0, azimuth.size() < 3 ? 3 - azimuth.size() : 0, '0');
    return azimuth + "/" + formatNumber(light.altitude, {0, false});
}

std::string lightName(const terrain::Light& light, const std::string& prefix) {
    return (prefix.empty() ? "Light" : prefix) + " " + lightNumbers(light);
}

std::string contourName(double interval) { return "Contours " + formatNumber(interval) + " m"; }

Document withLight(Document document, Id id, const terrain::Light& light) {
    const std::string prefix = document.lightPrefix;
    return withShade(std::move(document), id, [&](Layer& layer, HillshadeStyle& style) {
        const terrain::Light before = style.lights.front();
        if (layer.name == lightName(before, prefix) || layer.name == lightName(before) ||
            layer.name == formerName(before, prefix) || layer.name == formerName(before))
            layer.name = lightName(light, prefix);
        style.lights.front() = light;
    });
}

Document withInterval(Document document, Id id, double metres) {
    return withLayer(std::move(document), id, [&](Layer& layer) {
        auto* contours = layer.as<Contours>();
        if (!contours) return;
        double& interval = contours->style.levels.interval;
        if (layer.name == contourName(interval)) layer.name = contourName(metres);
        interval = metres;
    });
}

Document withKeptLight(Document document, Id id, const terrain::Light& light) {
    return withShade(std::move(document), id, [&](Layer&, HillshadeStyle& style) {
        if (std::find(style.kept.begin(), style.kept.end(), light) == style.kept.end())
            style.kept.push_back(light);
    });
}

Document withoutKeptLight(Document document, Id id, const terrain::Light& light) {
    return withShade(std::move(document), id,
                     [&](Layer&, HillshadeStyle& style) { std::erase(style.kept, light); });
}

Document withBlendedLights(Document document, Id id, bool isBlended) {
    return withShade(std::move(document), id, [&](Layer&, HillshadeStyle& style) {
        style.lights.resize(1);
        if (!isBlended) return;
        for (const terrain::Light& light : style.kept)
            if (light != style.lights.front()) style.lights.push_back(light);
    });
}

std::pair<Document, Id> addLight(Document document, Id beside, const terrain::Light& light) {
    const Layer* old = document.layer(beside);
    if (!old) return {std::move(document), 0};
    Layer layer;
    layer.name = lightName(light, document.lightPrefix);
    layer.source = old->source;
    Hillshade shade;
    shade.style.lights = {light};
    layer.content = shade;
    layer.blend = Blend::Multiply;
    layer.opacity = kUsualOpacity;
    Place place = placeOf(document, beside).value_or(Place{});
    // Above the lights that are there.
    const Layer* group = document.layer(place.group);
    const auto& list = group ? group->as<Group>()->children : document.layers;
    for (std::size_t i = 0; i < place.index && i < list.size(); ++i)
        if (list[i]->source == layer.source && list[i]->as<Hillshade>()) place.index = i;
    return addLayer(std::move(document), std::move(layer), place);
}

terrain::Light nextLight(const Document& document) {
    const auto all = allLayers(document.layers);
    for (const terrain::Light& light : kUsual) {
        const std::string name = lightName(light, document.lightPrefix);
        if (std::none_of(all.begin(), all.end(),
                         [&](const LayerPtr& layer) { return layer->name == name; }))
            return light;
    }
    return kUsual.back();
}

}  // namespace ledge::doc
