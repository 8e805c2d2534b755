#pragma once
#include <filesystem>

#include "core/raster/raster_source.h"
#include "io/geotiff/tiff_file.h"

namespace ledge::io {

/// How the cells of one image of a TIFF lie in blocks (strips or tiles).
struct TiffLayout {
    std::int64_t width = 0, height = 0;
    std::int64_t blockCols = 0, blockRows = 0, blocksAcross = 1, blocksDown = 1;
    std::int64_t blockBytes = 0;  ///< of a block once decoded and unpacked
    int bands = 1, extraBands = 0;
    int bits = 8;  ///< a cell as stored: 1, 2, 4, 8, 16, 32 or 64
    int photometric = 1, compression = 1;
    std::uint32_t subfile = 0;  ///< the bits of NewSubfileType
    bool isTiled = false, isPlanar = false, isHalfFloat = false;
    /// Stored bytes are the cells in the file's byte order, with nothing to decode.
    bool isPlain = false, isSwapped = false;
    CellType type = CellType::UInt8;  ///< once unpacked

    bool isReduced() const { return (subfile & 1u) != 0; }
    bool isMask() const { return (subfile & 4u) != 0; }
    std::int64_t blockCount() const { return blocksAcross * blocksDown * (isPlanar ? bands : 1); }
    std::size_t cell() const { return cellBytes(type); }
};

/// The layout of the handle's current directory, checked against the size of the file.
/// Errors: BadFormat, Unsupported, LimitExceeded.
Result<TiffLayout> readLayout(const std::filesystem::path& path, TIFF* tiff);

/// A tag's value, or its default in TIFF, or `fallback`.
template <typename T>
T tiffField(TIFF* tiff, std::uint32_t tag, T fallback) {
    T value = fallback;
    return TIFFGetFieldDefaulted(tiff, tag, &value) == 1 ? value : fallback;
}

}  // namespace ledge::io
