#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Features that meet the frame, in their order, marks and lines in paper sizes.
Result<void> paintFeatures(QPainter& painter, const MapFrame& frame,
                           const doc::MapFeatures& features, const doc::VectorStyle& style,
                           const Progress& progress);

/// One geometry with a look, in pixels of the frame.
void paintGeometry(QPainter& painter, const MapFrame& frame, const GeometryView& geometry,
                   const doc::Look& look);

/// Outline for what is selected or probed: a lichen line on a paper-coloured casing.
void paintOutline(QPainter& painter, const MapFrame& frame, const GeometryView& geometry);

/// A mark's outline around the origin, of a diameter.
QPainterPath markPath(doc::Mark mark, double diameter);
QPen penOf(const doc::Look& look, double pxPerMm);
/// The fill, or paper colour around points.
void drawMark(QPainter& painter, QPointF at, const doc::Look& look, double pxPerMm);

}  // namespace ledge::carto
