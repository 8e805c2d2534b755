#pragma once
#include "core/base/progress.h"
#include "document/drawing_data.h"

namespace ledge::session {

/// The box of a layer's data in a CRS; nothing where it cannot be told, an empty one of no data.
std::optional<Box> layerExtent(const doc::Document& document, const doc::Layer& layer,
                               const crs::CrsPtr& crs, const doc::DrawingData& data);
/// The box of everything that a panel lights, in its CRS; empty where that is nothing.
Box panelExtent(const doc::Document& document, const doc::SheetItem& panel,
                const doc::DrawingData& data, const Progress& progress);

}  // namespace ledge::session
