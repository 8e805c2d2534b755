#pragma once
#include <QImage>
#include <QPainter>

namespace ledge::carto {

/// Lays a picture over the one that a painter paints, pixel on pixel from its upper left corner on,
/// as the painter would with its opacity and the mode, on all cores. The painter must not be moved
/// or clipped, and paint a QImage.
void blend(QPainter& painter, const QImage& picture, QPainter::CompositionMode mode,
           double opacity);

}  // namespace ledge::carto
