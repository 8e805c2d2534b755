#include "carto/blending.h"

#include "core/base/parallel.h"

namespace ledge::carto {

void blend(QPainter& painter, const QImage& picture, QPainter::CompositionMode mode,
           double opacity) {
    constexpr std::size_t kFewestRows = 64;
    // Only pictures have the memory that rows of them can be painted in.
    auto* target = painter.device() && painter.device()->devType() == QInternal::Image
                       ? static_cast<QImage*>(painter.device())
                       : nullptr;
    if (!target || target->depth() < 8) {
        painter.setOpacity(opacity);
        painter.setCompositionMode(mode);
        painter.drawImage(0, 0, picture);
        return;
    }
    const int width = target->width(), height = std::min(target->height(), picture.height());
    const qsizetype line = target->bytesPerLine();
    uchar* first = target->bits();
    parallelRanges(
        static_cast<std::size_t>(height), kFewestRows, [&](std::size_t begin, std::size_t end) {
            const int top = static_cast<int>(begin), rows = static_cast<int>(end - begin);
            QImage part(first + line * top, width, rows, line, target->format());
            QPainter own(&part);
            own.setOpacity(opacity);
            own.setCompositionMode(mode);
            own.drawImage(0, 0, picture, 0, top, picture.width(), rows);
        });
}

}  // namespace ledge::carto
