#pragma once
#include <QPainter>
#include <QPainterPath>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// What a panel shows, as an outline on another panel's frame, in pixels of that frame; its sides
/// are followed closely where the CRSs differ. Empty where they have no way to each other.
QPolygonF outlineOn(const MapFrame& host, const MapFrame& inset);

/// The outlines of the sheet's panels that are shown in `host`, clipped to it, and leaders from
/// there to the corners of those panels.
void paintInsets(QPainter& painter, const doc::Document& document, const doc::Sheet& sheet,
                 const doc::SheetItem& host, double pxPerMm);

/// The areas that cut a panel's map, in pixels of its frame; nothing where it is cut by its
/// rectangle, or the layer has no areas to read.
std::optional<QPainterPath> panelShape(const doc::Document& document, const doc::MapPanel& panel,
                                       const MapFrame& frame, const doc::DrawingData& data);

/// Where a frame of whole pixels begins, so that its middle is the item's.
QPointF frameOrigin(const doc::SheetItem& item, const MapFrame& frame, double pxPerMm);

}  // namespace ledge::carto
