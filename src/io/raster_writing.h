#pragma once
#include <cstdint>

namespace ledge::io {

enum class Compression : std::uint8_t { None, Lzw, Deflate, Zstd };

/// How a raster file is laid out, where its format leaves a choice.
struct RasterWriting {
    Compression compression = Compression::Deflate;
    /// Reduced copies ahead of the full cells, ordered so that a reader needs only the parts it
    /// shows (the layout that suits reading over a network, OGC 21-026).
    bool withOverviews = false;
    double dotsPerInch = 0;  ///< of pictures made for paper; 0: not said

    RasterWriting() = default;
    RasterWriting(Compression how, bool overviews = false)
        : compression(how), withOverviews(overviews) {}
};

}  // namespace ledge::io
