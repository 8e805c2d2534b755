#pragma once
#include <QImage>
#include <unordered_map>

#include "carto/map_frame.h"
#include "document/drawing_data.h"
#include "document/kinds.h"

namespace ledge::carto {

/// The sources of a document by what layers call them; some kinds come from no file.
class SourcesById {
public:
    explicit SourcesById(const doc::Document& document) {
        for (const doc::SourceRef& source : document.sources) m_byId.emplace(source.id, &source);
    }
    const doc::SourceRef* of(const doc::Layer& layer) const {
        static const doc::SourceRef none;
        if (!doc::kindInfo(layer).needsSource) return &none;
        const auto it = m_byId.find(layer.source);
        if (it == m_byId.end()) return nullptr;
        const auto* vector = layer.as<doc::VectorLayer>();
        if (!vector || vector->filter.empty()) return it->second;
        return &m_filtered.try_emplace(layer.id, doc::readBy(layer, *it->second)).first->second;
    }

private:
    std::unordered_map<doc::Id, const doc::SourceRef*> m_byId;
    mutable std::unordered_map<doc::Id, doc::SourceRef> m_filtered;  ///< by layer
};

/// A layer without what is applied when its picture is laid down.
doc::Layer appearance(const doc::Layer& layer);

inline Error noSource(const doc::Layer& layer) {
    return {ErrorCode::NotFound, layer.name, "its source is not in the project",
            "remove the layer"};
}

inline QImage emptyPicture(const MapFrame& frame) {
    QImage image(frame.widthPx, frame.heightPx, QImage::Format_ARGB32_Premultiplied);
    image.fill(Qt::transparent);
    return image;
}

}  // namespace ledge::carto
