#include "io/geotiff/tiff_layout.h"

#include "core/base/numbers.h"
#include "core/raster/block_cache.h"
#include "io/files/atomic_file.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

std::optional<CellType> cellTypeOf(int bits, int format) {
    if (format == SAMPLEFORMAT_IEEEFP) {
        if (bits == 16 || bits == 32) return CellType::Float32;
        return bits == 64 ? std::optional(CellType::Float64) : std::nullopt;
    }
    const bool isSigned = format == SAMPLEFORMAT_INT;
    if (!isSigned && format != SAMPLEFORMAT_UINT && format != SAMPLEFORMAT_VOID) return {};
    switch (bits) {
    case 1:
    case 2:
    case 4: return isSigned ? std::nullopt : std::optional(CellType::UInt8);
    case 8: return isSigned ? CellType::Int8 : CellType::UInt8;
    case 16: return isSigned ? CellType::Int16 : CellType::UInt16;
    case 32: return isSigned ? CellType::Int32 : CellType::UInt32;
    default: return {};
    }
}

// A header can promise anything; the file's bytes cannot.
Result<void> checkAgainstFile(const fs::path& path, const TiffLayout& layout) {
    std::error_code code;
    const auto fileBytes = static_cast<double>(fs::file_size(path, code));
    const auto width = static_cast<double>(layout.width);
    const auto height = static_cast<double>(layout.height);
    const double blocks = static_cast<double>(layout.blocksAcross) *
                          static_cast<double>(layout.blocksDown) *
                          (layout.isPlanar ? layout.bands : 1);
    const double bytes = width * height * layout.bits / 8 * layout.bands;
    // Each block needs at least two bytes of index; no common compression passes 1 : 20 000.
    const double least = layout.compression == COMPRESSION_NONE ? bytes : bytes / 20000;
    if (blocks * 2 > fileBytes || least > fileBytes)
        return badFormat(path,
                         "the header promises " + formatNumber(width) + " × " +
                             formatNumber(height) + " cells but the file has only " +
                             formatNumber(fileBytes) + " bytes",
                         "the file is cut short or its header is wrong; get a fresh copy");
    return {};
}

// Colours stored as luminance and coarser chroma are decoded by libtiff for JPEG only.
Result<void> checkColours(const fs::path& path, TIFF* tiff, const TiffLayout& layout) {
    if (layout.photometric != PHOTOMETRIC_YCBCR) return {};
    if (layout.compression == COMPRESSION_JPEG && !layout.isPlanar) {
        TIFFSetField(tiff, TIFFTAG_JPEGCOLORMODE, JPEGCOLORMODE_RGB);
        return {};
    }
    std::uint16_t across = 1, down = 1;
    TIFFGetFieldDefaulted(tiff, TIFFTAG_YCBCRSUBSAMPLING, &across, &down);
    return Error{ErrorCode::Unsupported, nameOf(path),
                 "its colours are stored as luminance and chroma without JPEG",
                 "write it again as red, green and blue"};
}
}  // namespace

Result<TiffLayout> readLayout(const fs::path& path, TIFF* tiff) {
    TiffLayout out;
    const auto width = tiffField<std::uint32_t>(tiff, TIFFTAG_IMAGEWIDTH, 0);
    const auto height = tiffField<std::uint32_t>(tiff, TIFFTAG_IMAGELENGTH, 0);
    const int format = tiffField<std::uint16_t>(tiff, TIFFTAG_SAMPLEFORMAT, SAMPLEFORMAT_UINT);
    out.bits = tiffField<std::uint16_t>(tiff, TIFFTAG_BITSPERSAMPLE, 1);
    out.bands = tiffField<std::uint16_t>(tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
    out.photometric = tiffField<std::uint16_t>(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISBLACK);
    out.compression = tiffField<std::uint16_t>(tiff, TIFFTAG_COMPRESSION, COMPRESSION_NONE);
    out.subfile = tiffField<std::uint32_t>(tiff, TIFFTAG_SUBFILETYPE, 0);
    std::uint16_t extra = 0;
    std::uint16_t* kinds = nullptr;
    if (TIFFGetField(tiff, TIFFTAG_EXTRASAMPLES, &extra, &kinds) == 1) out.extraBands = extra;
    if (width == 0 || height == 0 || out.bands == 0)
        return badFormat(path, "the header gives no size");
    const auto type = cellTypeOf(out.bits, format);
    if (!type)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "cells of " + std::to_string(out.bits) + " bits in sample format " +
                         std::to_string(format) + " are not supported",
                     "convert it to 8, 16 or 32-bit integers or floats"};
    out.type = *type;
    out.isHalfFloat = format == SAMPLEFORMAT_IEEEFP && out.bits == 16;
    out.width = width, out.height = height;
    out.isPlanar = out.bands > 1 &&
                   tiffField<std::uint16_t>(tiff, TIFFTAG_PLANARCONFIG, 1) == PLANARCONFIG_SEPARATE;
    out.isTiled = TIFFIsTiled(tiff) != 0;
    if (out.isTiled) {
        out.blockCols = tiffField<std::uint32_t>(tiff, TIFFTAG_TILEWIDTH, 0);
        out.blockRows = tiffField<std::uint32_t>(tiff, TIFFTAG_TILELENGTH, 0);
    } else {
        out.blockCols = width;
        out.blockRows =
            std::min(tiffField<std::uint32_t>(tiff, TIFFTAG_ROWSPERSTRIP, height), height);
    }
    if (out.blockCols <= 0 || out.blockRows <= 0) return badFormat(path, "its blocks have no size");
    if (out.bits < 8 && out.bands > 1 && !out.isPlanar)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "several bands of less than 8 bits in one are not supported",
                     "convert it to 8-bit cells"};
    out.blocksAcross = (out.width + out.blockCols - 1) / out.blockCols;
    out.blocksDown = (out.height + out.blockRows - 1) / out.blockRows;
    if (const auto fine = checkAgainstFile(path, out); !fine) return fine.error();
    if (const auto fine = checkColours(path, tiff, out); !fine) return fine.error();
    out.isSwapped = TIFFIsByteSwapped(tiff) != 0;
    out.isPlain =
        out.compression == COMPRESSION_NONE && out.bits >= 8 && !out.isHalfFloat &&
        tiffField<std::uint16_t>(tiff, TIFFTAG_FILLORDER, FILLORDER_MSB2LSB) == FILLORDER_MSB2LSB;
    const double blockBytes = static_cast<double>(out.blockCols) *
                              static_cast<double>(out.blockRows) * static_cast<double>(out.cell()) *
                              (out.isPlanar ? 1 : out.bands);
    // Plain blocks are read by pieces. Others are held whole, and should leave room for a second.
    const double most = static_cast<double>(BlockCache::shared().limit()) / 2;
    if (blockBytes > most && !out.isPlain)
        return Error{ErrorCode::LimitExceeded, nameOf(path),
                     "one of its blocks needs " + formatNumber(blockBytes / 1048576, {0, false}) +
                         " MB, more than half of the memory for rasters",
                     "allow more (--cache MEGABYTES, or Memory for rasters in the menu), or have "
                     "the file rewritten in tiles"};
    if (blockBytes > 9e18)
        return badFormat(path, "the header asks for blocks larger than any file");
    out.blockBytes = out.blockCols * out.blockRows * static_cast<std::int64_t>(out.cell()) *
                     (out.isPlanar ? 1 : out.bands);
    return out;
}

}  // namespace ledge::io
