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
/// As an item has it: its unit, length and divisions where they are given. A length that is typed
/// may be longer than the room.
ScaleBar scaleBarFor(const MapFrame& frame, double roomPx, LengthUnit unit,
                     const doc::ScaleBarItem& item);

/// Hairline bar with ticks; its left end at `at`, which is the baseline of the bar.
void paintScaleBar(QPainter& painter, QPointF at, const ScaleBar& bar, double sizePt,
                   double pxPerMm, Colour colour = {0x23, 0x26, 0x3F});
/// In the item's form, with the divisions left of zero, and a second bar beneath it in the second
/// unit. `rect` is the item's.
void paintScaleBar(QPainter& painter, const QRectF& rect, const MapFrame& frame, LengthUnit unit,
                   const doc::ScaleBarItem& item, double pxPerMm);

}  // namespace ledge::carto
