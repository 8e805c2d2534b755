#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "core/base/progress.h"
#include "document/style.h"

namespace ledge::carto {

/// The CRS whose coordinates a grid shows on a map: its own; else the map's, for a graticule the
/// geographic CRS of that. Null for the grid of plain local coordinates. Errors: of the text.
Result<crs::CrsPtr> gridCrs(const doc::GridStyle& style, const crs::CrsPtr& mapCrs);

/// The interval drawn: the style's, else a round one that keeps lines about 30 mm apart.
double gridInterval(const doc::GridStyle& style, const crs::CrsPtr& grid, const MapFrame& frame);

/// The globe in the sea's colour, where the style fills it. It lies beneath all layers, wherever
/// the lines lie.
void paintSea(QPainter& painter, const MapFrame& frame, const doc::GridStyle& style,
              double opacity);

/// Lines of round coordinates over a frame, with their values inside its edges, and along the edge
/// of the globe where that is on the frame.
/// Errors: of the grid's CRS; Cancelled.
Result<void> paintGridLines(QPainter& painter, const MapFrame& frame, const doc::GridStyle& style,
                            const Progress& progress);

}  // namespace ledge::carto
