#include "carto/shown_entries.h"

#include "carto/map_frame.h"
#include "carto/relief.h"
#include "document/look_finder.h"

namespace ledge::carto {
namespace {
class Reader {
public:
    Reader(const MapFrame& frame, const doc::DrawingData& data) : m_frame(frame), m_data(data) {}

    std::optional<std::set<int>> of(const doc::Layer& layer, const doc::SourceRef& source) const {
        if (const auto* vector = layer.as<doc::VectorLayer>())
            return ofFeatures(*vector, doc::readBy(layer, source));
        if (const auto* raster = layer.as<doc::RasterLayer>();
            raster && !raster->style.classes.empty())
            return ofCells(raster->style, source);
        return {};
    }

private:
    std::optional<std::set<int>> ofFeatures(const doc::VectorLayer& vector,
                                            const doc::SourceRef& source) const {
        const auto features = m_data.features(source, m_frame.crs);
        if (!features) return {};
        std::set<int> out;
        doc::LookFinder looks(vector.style, *(*features)->table, m_frame.groundScale());
        for (const std::size_t row : (*features)->index.meeting(m_frame.extent()))
            out.insert(looks.entryOf(row));
        return out;
    }
    std::optional<std::set<int>> ofCells(const doc::RasterStyle& style,
                                         const doc::SourceRef& source) const {
        const auto pyramid = m_data.raster(source, style.band);
        if (!pyramid) return {};
        constexpr double kAcross = 600;  // pixels read
        MapFrame coarse = m_frame;
        const double by = std::min(1.0, kAcross / std::max(m_frame.widthPx, m_frame.heightPx));
        coarse.pxPerMm *= by;
        coarse.widthPx = std::max(1, static_cast<int>(m_frame.widthPx * by));
        coarse.heightPx = std::max(1, static_cast<int>(m_frame.heightPx * by));
        const auto cells = frameHeights(**pyramid, coarse, Resampling::Nearest, {});
        if (!cells) return {};
        std::set<double> values;
        for (const float v : cells->cells()) values.insert(static_cast<double>(v));
        std::set<int> out;
        for (std::size_t i = 0; i < style.classes.size(); ++i)
            if (values.contains(static_cast<double>(static_cast<float>(style.classes[i].value))))
                out.insert(static_cast<int>(i));
        return out;
    }
    const MapFrame& m_frame;
    const doc::DrawingData& m_data;
};
}  // namespace

ShownEntries shownEntries(const doc::Document& document, const std::vector<doc::LayerPtr>& layers,
                          const MapFrame& frame, const doc::DrawingData& data) {
    ShownEntries out;
    const Reader reader(frame, data);
    for (const doc::DrawnLayer& one : doc::drawnLayers(layers, frame.groundScale())) {
        const doc::SourceRef* source = document.source(one.layer->source);
        if (!source) continue;
        if (auto entries = reader.of(*one.layer, *source)) out[one.layer->id] = *std::move(entries);
    }
    return out;
}

}  // namespace ledge::carto
