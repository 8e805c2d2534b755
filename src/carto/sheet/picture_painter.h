#pragma once
#include <QPainter>

#include "core/base/result.h"
#include "document/sheet.h"

namespace ledge::carto {

/// What is known of a picture's file without drawing it.
struct PictureFacts {
    bool isDrawing = false;  ///< an SVG, sharp at any size
    QSizeF size;             ///< pixels, or the drawing's own units
};
/// Errors: NotFound, Unsupported, of files that are no pictures or too large.
Result<PictureFacts> pictureFacts(const std::filesystem::path& file);

/// Where a picture of a shape lies in a rectangle.
QRectF pictureRect(const QRectF& rect, QSizeF picture, const doc::PictureItem& item);

/// The picture in its rectangle, in pixels. Errors as above; nothing is drawn then.
Result<void> paintPicture(QPainter& painter, const QRectF& rect, const doc::PictureItem& item);

}  // namespace ledge::carto
