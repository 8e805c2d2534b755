#include "io/geotiff/tile_encoder.h"

#include <zlib.h>
#include <zstd.h>

#include <bit>
#include <cstring>

namespace ledge::io {
namespace {
static_assert(std::endian::native == std::endian::little, "tiles are written in native order");

// Horizontal differences within each row of cells (TIFF 6.0, section 14).
template <typename Stored>
void difference(std::byte* bytes) {
    auto* cells = reinterpret_cast<Stored*>(bytes);
    for (std::size_t r = 0; r < kTileSide; ++r) {
        Stored* const row = cells + r * kTileSide;
        for (std::size_t c = kTileSide; c-- > 1;) row[c] = static_cast<Stored>(row[c] - row[c - 1]);
    }
}

// Bytes of a row apart by significance, most significant first, then differences of bytes (Adobe
// Photoshop TIFF Technical Note 3).
void floatDifference(std::byte* bytes, std::size_t cell) {
    const std::size_t rowBytes = kTileSide * cell;
    std::vector<std::byte> apart(rowBytes);
    for (std::size_t r = 0; r < kTileSide; ++r) {
        std::byte* const row = bytes + r * rowBytes;
        for (std::size_t c = 0; c < kTileSide; ++c)
            for (std::size_t b = 0; b < cell; ++b)
                apart[(cell - 1 - b) * kTileSide + c] = row[c * cell + b];
        std::memcpy(row, apart.data(), rowBytes);
        auto* const values = reinterpret_cast<unsigned char*>(row);
        for (std::size_t i = rowBytes; i-- > 1;)
            values[i] = static_cast<unsigned char>(values[i] - values[i - 1]);
    }
}
}  // namespace

int predictorOf(Compression compression, CellType type) {
    if (compression == Compression::None || cellBytes(type) > 4) return 1;
    return isFloating(type) ? 3 : 2;
}

std::optional<std::vector<std::byte>> encodeTile(Compression compression, CellType type,
                                                 std::span<const std::byte> cells) {
    if (compression == Compression::Lzw) return {};
    std::vector<std::byte> plain(cells.begin(), cells.end());
    if (compression == Compression::None) return plain;
    const int predictor = predictorOf(compression, type);
    if (predictor == 3) floatDifference(plain.data(), cellBytes(type));
    if (predictor == 2) {
        switch (cellBytes(type)) {
        case 1: difference<std::uint8_t>(plain.data()); break;
        case 2: difference<std::uint16_t>(plain.data()); break;
        default: difference<std::uint32_t>(plain.data()); break;
        }
    }
    std::vector<std::byte> out;
    if (compression == Compression::Zstd) {
        out.resize(ZSTD_compressBound(plain.size()));
        const std::size_t size =
            ZSTD_compress(out.data(), out.size(), plain.data(), plain.size(), 6);
        if (ZSTD_isError(size) != 0) return {};
        out.resize(size);
        return out;
    }
    uLongf size = compressBound(static_cast<uLong>(plain.size()));
    out.resize(size);
    if (compress2(reinterpret_cast<Bytef*>(out.data()), &size,
                  reinterpret_cast<const Bytef*>(plain.data()), static_cast<uLong>(plain.size()),
                  6) != Z_OK)
        return {};
    out.resize(size);
    return out;
}

}  // namespace ledge::io
