// What MapRenderer lays over the drawn layers: their labels, and what could not be had of them.
#include <algorithm>

#include "carto/drawn_source.h"
#include "carto/map_renderer.h"
#include "carto/symbol_troubles.h"

namespace ledge::carto {
namespace {
bool isLabelled(const doc::DrawnLayer& one) {
    const auto* vector = one.layer->as<doc::VectorLayer>();
    return vector && std::any_of(vector->labels.begin(), vector->labels.end(),
                                 [](const doc::LabelStyle& labels) {
                                     return labels.isOn && !labels.text.empty();
                                 });
}
}  // namespace

void MapRenderer::paintNames(const LabelPainters& painters, const doc::Document& document,
                             std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                             MapReport& report) {
    const bool isMoved = m_keeping == Keeping::Tiles && m_labelled.view.scale == frame.view.scale &&
                         m_labelled.view.rotation == frame.view.rotation &&
                         m_labelled.pxPerMm == frame.pxPerMm &&
                         crs::isSame(m_labelled.crs, frame.crs);
    if (!isMoved) m_labelPlaces.clear();
    const LabelPlaces before = std::exchange(m_labelPlaces, {});
    m_labelled = frame;
    for (const MapFrame& turn : turnsOf(frame))
        paintNamesOf(painters, document, layers, turn, before, report);
    // What left or found no room comes back where it stood.
    constexpr std::size_t kMostRemembered = 50'000;
    if (before.size() < kMostRemembered)
        for (const auto& [of, place] : before)
            m_labelPlaces.emplace(of, LabelPlace{place.origin, place.angleRadians, {}});
}

void MapRenderer::paintNamesOf(const LabelPainters& painters, const doc::Document& document,
                               std::span<const doc::DrawnLayer> layers, const MapFrame& frame,
                               const LabelPlaces& before, MapReport& report) {
    // Marks and lines only stand in the way of labels.
    if (std::none_of(layers.begin(), layers.end(), isLabelled)) return;
    NameLabels names(frame, &before, m_effort);
    const SourcesById sources(document);
    for (auto it = layers.rbegin(); it != layers.rend(); ++it) {
        const doc::Layer& layer = *it->layer;
        if (const auto kept = m_contours.find(layer.id);
            layer.as<doc::Contours>() && kept != m_contours.end() && kept->second.frame == frame)
            for (std::size_t i = 0; i < kept->second.drawing->labels.size(); ++i)
                names.pin({layer.id, static_cast<std::int64_t>(i), 0},
                          kept->second.drawing->labels[i].boxes);
        const auto* vector = layer.as<doc::VectorLayer>();
        const doc::SourceRef* source = sources.of(layer);
        if (!vector || !source) continue;
        if (!isLabelled(*it) && !(vector->keepsLabelsOff > 0)) continue;
        const auto features = m_data->features(*source, frame.crs, frame.tolerance());
        if (features) names.add(**features, *vector, layer.id);
    }
    auto outcome = names.paint(painters);
    const Affine toMap = frame.toMap();
    for (MapLabel& label : outcome.placed) {
        m_labelPlaces[label.of] = {toMap(label.origin), label.angleRadians, label.boxes};
        report.labels.push_back(std::move(label));
    }
    for (LabelLeftOut& one : outcome.leftOut) report.leftOut.push_back(std::move(one));
}

// What a style or a label asks for and its table cannot give: the rest is drawn.
Result<void> MapRenderer::tellTroubles(const doc::Document& document,
                                       std::span<const doc::DrawnLayer> layers,
                                       const MapFrame& frame, const Progress& progress,
                                       MapReport& report) {
    const SourcesById sources(document);
    for (const doc::DrawnLayer& one : layers) {
        const auto* vector = one.layer->as<doc::VectorLayer>();
        const doc::SourceRef* source = vector ? sources.of(*one.layer) : nullptr;
        if (!source) continue;
        for (std::string& why : fontsAndDrawings(*one.layer))
            report.problems.push_back({one.layer->id, std::move(why)});
        if (doc::formulasOf(*vector).empty()) continue;
        const auto features = m_data->features(*source, frame.crs, frame.tolerance());
        if (!features) continue;
        auto said = troublesOf(*one.layer, *source, *(*features)->table, progress);
        if (!said) return said.error();
        for (std::string& why : *said) report.problems.push_back({one.layer->id, std::move(why)});
    }
    return {};
}

// Found once for a layer as it is.
std::vector<std::string> MapRenderer::fontsAndDrawings(const doc::Layer& layer) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    KeptSymbols& kept = m_symbolTroubles[layer.id];
    if (!(kept.style == vector.style && kept.labels == vector.labels))
        kept = {vector.style, vector.labels, symbolTroubles(vector)};
    return kept.said;
}

// Found once for what is asked and the data it is asked of.
Result<std::vector<std::string>> MapRenderer::troublesOf(const doc::Layer& layer,
                                                         const doc::SourceRef& source,
                                                         const FeatureTable& table,
                                                         const Progress& progress) {
    const auto& vector = *layer.as<doc::VectorLayer>();
    auto formulas = doc::formulasOf(vector);
    const std::uint64_t data = m_data->version(source);
    if (const auto it = m_troubles.find(layer.id);
        it != m_troubles.end() && it->second.formulas == formulas && it->second.source == source &&
        it->second.data == data)
        return it->second.said;
    auto said = doc::rowTroubles(vector, table, {progress.stop, {}});
    if (!said) return said;
    if (std::string why = doc::troubleOf(vector, table.info); !why.empty())
        said->insert(said->begin(), std::move(why));
    m_troubles[layer.id] = {std::move(formulas), source, data, *said};
    return said;
}

}  // namespace ledge::carto
