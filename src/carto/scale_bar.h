#pragma once
#include <QPainter>

#include "carto/map_frame.h"

namespace ledge::carto {

/// A scale bar's measures: ground metres of the whole, divisions, and its length in pixels.
struct ScaleBar {
    double metres = 0, lengthPx = 0;
    int divisions = 2;
    NamedLength unit{"m", 1};
};
/// A round length in the unit between about a sixth and a third of `roomPx`, by ground length at
/// the frame's middle.
ScaleBar scaleBarFor(const MapFrame& frame, double roomPx, LengthUnit unit = LengthUnit::Metric);

/// Hairline bar with ticks; its left end at `at`, which is the baseline of the bar.
void paintScaleBar(QPainter& painter, QPointF at, const ScaleBar& bar, double sizePt,
                   double pxPerMm, Colour colour = {0x23, 0x26, 0x3F});

/// A plain arrow to true north in a rectangle. Grid north serves where they differ by up to half a
/// degree.
void paintNorthArrow(QPainter& painter, const QRectF& rect, const MapFrame& frame, double pxPerMm);
double northAngle(const MapFrame& frame);

}  // namespace ledge::carto
