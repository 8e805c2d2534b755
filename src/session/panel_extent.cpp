#include "session/panel_extent.h"

#include "core/crs/transformation.h"
#include "document/map_crs.h"
#include "document/panels.h"

namespace ledge::session {

std::optional<Box> layerExtent(const doc::Document& document, const doc::Layer& layer,
                               const crs::CrsPtr& crs, const doc::DrawingData& data) {
    const doc::SourceRef* source = document.source(layer.source);
    if (!source) return {};
    Box box;
    if (layer.as<doc::VectorLayer>()) {
        const auto features = data.features(doc::readBy(layer, *source), crs);
        if (!features) return {};
        const FeatureTable& table = *(*features)->table;
        for (std::size_t row = 0; row < table.size(); ++row) box.add(table.box(row));
        return box;
    }
    const auto pyramid = data.raster(*source);
    if (!pyramid) return {};
    const RasterInfo& info = (*pyramid)->source().info();
    const auto toMap = crs::Transformation::between(info.crs, crs);
    if (!toMap) return {};
    // Along and within its edges, which may bend.
    constexpr int kSteps = 8;
    for (int i = 0; i <= kSteps; ++i)
        for (int k = 0; k <= kSteps; ++k)
            box.add(toMap->forward(info.toWorld({static_cast<double>(info.width) * i / kSteps,
                                                 static_cast<double>(info.height) * k / kSteps})));
    return box;
}

Box panelExtent(const doc::Document& document, const doc::SheetItem& panel,
                const doc::DrawingData& data, const Progress& progress) {
    Box out;
    const auto* content = panel.as<doc::MapPanel>();
    if (!content) return out;
    const auto crs = doc::crsIn(document, doc::resolved(document, *content).crs);
    for (const doc::DrawnLayer& one : doc::drawnLayers(doc::panelLayers(document, *content))) {
        if (progress.stopped()) return out;
        if (const auto box = layerExtent(document, *one.layer, crs, data)) out.add(*box);
    }
    return out;
}

}  // namespace ledge::session
