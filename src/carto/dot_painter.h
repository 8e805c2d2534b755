#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Dots for counts over areas, at the same places of the map at every scale and in every picture.
/// Those of areas drawn lately are kept, so that tiles of one area strew it once. The areas of
/// `keptOff` take none.
Result<void> paintDots(QPainter& painter, const MapFrame& frame, const doc::MapFeatures& features,
                       const doc::DotRule& rule, std::span<const std::size_t> rows,
                       const Progress& progress, const doc::MapFeatures* keptOff = nullptr);

}  // namespace ledge::carto
