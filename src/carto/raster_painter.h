#pragma once
#include <QImage>

#include "core/raster/block_view.h"
#include "document/style.h"

namespace ledge::carto {

/// Cells of red, green and blue (all with a rim of one) as a picture; pixels where any is missing
/// are transparent. `alpha` (0 to 255) may be empty.
QImage imagePicture(const std::array<Grid<float>, 3>& channels, const Grid<float>& alpha,
                    const doc::ImageStyle& style);

/// Cells of classes (with a rim of one) in their colours; hidden and unlisted ones transparent.
QImage classPicture(const Grid<float>& cells, const std::vector<doc::RasterClass>& classes);

}  // namespace ledge::carto
