#include "app/widgets/look_sample.h"

#include <QPainter>

#include "carto/swatch.h"

namespace ledge::app {

QPixmap lookSample(const doc::Look& look, GeometryType geometry, double ratio) {
    QImage sample(QSize(34, 22) * ratio, QImage::Format_ARGB32_Premultiplied);
    sample.fill(Qt::transparent);
    QPainter painter(&sample);
    carto::drawSample(painter, QRectF(4 * ratio, 4 * ratio, 26 * ratio, 14 * ratio), geometry, look,
                      4 * ratio);
    painter.end();
    sample.setDevicePixelRatio(ratio);
    return QPixmap::fromImage(sample);
}

}  // namespace ledge::app
