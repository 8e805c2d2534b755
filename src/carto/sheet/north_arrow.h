#pragma once
#include <QPainter>

#include "carto/map_frame.h"

namespace ledge::carto {

/// How far north is turned on a frame, degrees clockwise: true north where it differs from grid
/// north by over half a degree, or the north that an item asks for.
double northAngle(const MapFrame& frame, const doc::NorthArrowItem& item = {});
/// An arrow to it in a rectangle.
void paintNorthArrow(QPainter& painter, const QRectF& rect, const MapFrame& frame,
                     const doc::NorthArrowItem& item, double pxPerMm);

}  // namespace ledge::carto
