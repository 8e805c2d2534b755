#pragma once
#include <cstddef>
#include <optional>
#include <span>
#include <vector>

#include "core/raster/raster_source.h"
#include "io/raster_writing.h"

namespace ledge::io {

/// The side of tiles written.
inline constexpr std::size_t kTileSide = 256;

/// The predictor tag that encodeTile's output wants: 1 none, 2 differences, 3 floating point.
int predictorOf(Compression compression, CellType type);

/// The bytes of a tile (kTileSide rows of kTileSide cells) as they stand in a TIFF file. Nothing
/// where libtiff must do it (LZW) or compression failed. Safe from several threads.
std::optional<std::vector<std::byte>> encodeTile(Compression compression, CellType type,
                                                 std::span<const std::byte> cells);

}  // namespace ledge::io
