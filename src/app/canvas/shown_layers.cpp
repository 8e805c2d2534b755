#include "app/canvas/shown_layers.h"

#include <algorithm>

#include "document/edits/layer_edits.h"

namespace ledge::app {
namespace {
constexpr int kFaintAlpha = 40;

doc::Document withLamp(doc::Document document, doc::Id id, bool isOn) {
    return doc::withLayer(std::move(document), id, [isOn](doc::Layer& l) { l.isVisible = isOn; });
}

bool holds(const doc::Document& document, doc::Id group, doc::Id inner) {
    const doc::Layer* layer = document.layer(group);
    const auto* content = layer ? layer->as<doc::Group>() : nullptr;
    if (!content) return false;
    const auto all = doc::allLayers(content->children);
    return std::any_of(all.begin(), all.end(),
                       [inner](const doc::LayerPtr& l) { return l->id == inner; });
}
}  // namespace

std::vector<doc::LayerPtr> withoutLayer(const doc::Document& document, doc::Id id) {
    return id == 0 ? document.layers : withLamp(document, id, false).layers;
}

bool canCompare(const doc::Document& document, doc::Id one, doc::Id other) {
    return one != other && document.layer(one) && document.layer(other) &&
           !holds(document, one, other) && !holds(document, other, one);
}

std::vector<doc::LayerPtr> comparedLayers(const doc::Document& document, doc::Id one, doc::Id other,
                                          Side side) {
    if (!canCompare(document, one, other))
        return side == Side::Front ? document.layers : withoutLayer(document, one);
    // Both are seen in the place of the upper one, so that nothing between hides the lower.
    const auto order = doc::allLayers(document.layers);
    const auto upper = std::find_if(order.begin(), order.end(), [&](const doc::LayerPtr& l) {
        return l->id == one || l->id == other;
    });
    auto place = doc::placeOf(document, (*upper)->id).value_or(doc::Place{});
    while (place.group != 0 && !document.layer(place.group)->isVisible)
        place = doc::placeOf(document, place.group).value_or(doc::Place{});
    if (side == Side::Behind) std::swap(one, other);
    doc::Document out = withLamp(withLamp(document, one, true), other, false);
    return doc::moveLayer(std::move(out), one, place).layers;
}

std::vector<doc::LayerPtr> withLitClasses(std::vector<doc::LayerPtr> layers, doc::Id raster,
                                          const std::set<double>& values) {
    if (values.empty()) return layers;
    doc::Document document;
    document.layers = std::move(layers);
    return doc::withLayer(std::move(document), raster,
                          [&](doc::Layer& layer) {
                              auto* content = layer.as<doc::RasterLayer>();
                              if (!content) return;
                              for (doc::RasterClass& one : content->style.classes)
                                  if (!values.contains(one.value))
                                      one.colour.a = static_cast<std::uint8_t>(one.colour.a *
                                                                               kFaintAlpha / 255);
                          })
        .layers;
}

}  // namespace ledge::app
