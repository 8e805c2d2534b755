#pragma once
#include <QImage>
#include <cstddef>

namespace ledge::carto {

/// A picture to be filled, of as many rows and columns as a grid has.
inline QImage blankPicture(std::size_t rows, std::size_t cols) {
    return QImage(static_cast<int>(cols), static_cast<int>(rows),
                  QImage::Format_ARGB32_Premultiplied);
}
/// Rows that a thread fills at a time.
inline constexpr std::size_t kRowsAtATime = 32;

}  // namespace ledge::carto
