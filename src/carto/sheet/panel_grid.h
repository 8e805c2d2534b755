#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "core/base/progress.h"

namespace ledge::carto {

/// The sides of a panel that a grid's values stand outside of: the first grid's at its top and
/// left, the second's at its foot and right, and so on in turn.
enum class GridSides : std::uint8_t { TopLeft, FootRight };

/// Lines, crosses or ticks of a grid over a panel, in pixels, and its values outside the neat line.
/// `rect` is the panel on the page; the frame fills it. Errors: of the grid's CRS; Cancelled.
Result<void> paintPanelGrid(QPainter& painter, const QRectF& rect, const MapFrame& frame,
                            const doc::PanelGrid& grid, GridSides sides, const Progress& progress);

}  // namespace ledge::carto
