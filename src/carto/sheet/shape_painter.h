#pragma once
#include <QPainter>

#include "document/sheet.h"

namespace ledge::carto {

/// A shape drawn by hand in its rectangle, in pixels. Polygons and lines without points are the
/// rectangle's diagonal.
void paintShape(QPainter& painter, const QRectF& rect, const doc::ShapeItem& shape, double pxPerMm);

}  // namespace ledge::carto
