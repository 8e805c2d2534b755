#pragma once
#include <QImage>

#include "document/document.h"

namespace ledge::carto {

/// A small picture of a layer's real style: a made-up hill for what derives from heights, a mark,
/// bend or patch for features.
QImage swatch(const doc::Layer& layer, QSize sizePx, double pixelRatio);

/// A legend's patch of a look (7 x 4 mm by default), a gentle bend for lines.
void drawSample(QPainter& painter, const QRectF& rect, GeometryType type, const doc::Look& look,
                double pxPerMm);

/// A ramp from left to right.
void drawRamp(QPainter& painter, const QRectF& rect, const Ramp& ramp);

}  // namespace ledge::carto
