#pragma once
#include <filesystem>
#include <memory>

#include "io/geotiff/tiff_file.h"
#include "io/geotiff/tile_encoder.h"

namespace ledge::io {

/// Sets the tags of one image: `info` without placement for overviews.
void setImageTags(TIFF* tiff, const RasterInfo& info, Compression compression, bool isOverview);

/// One image written from north to south into a TIFF of its own, band after band. Cells are stored
/// as they come; each full row of tiles is compressed on all cores.
class TileWriter {
public:
    /// `target` is for messages only.
    TileWriter(std::filesystem::path target, RasterInfo info, Compression compression);

    /// Of a picture for paper; before it is opened.
    void setDotsPerInch(double dpi) { m_dotsPerInch = dpi; }
    Result<void> open(const std::filesystem::path& path, bool isOverview);
    Result<void> append(BlockView<const float> rows) { return appendAny(rows); }
    Result<void> append(BlockView<const double> rows) { return appendAny(rows); }
    bool isComplete() const;
    /// Writes the directory and closes the file.
    Result<void> close();

private:
    template <typename T>
    Result<void> appendAny(BlockView<const T> rows);
    Result<void> flush();

    std::filesystem::path m_target;
    RasterInfo m_info;
    Compression m_compression;
    double m_dotsPerInch = 0;
    std::unique_ptr<TiffFile> m_file;
    std::vector<std::byte> m_tiles;  ///< one row of tiles, one after the other
    std::size_t m_held = 0;          ///< rows in them
    std::int64_t m_done = 0;         ///< rows of the band so far
    std::size_t m_band = 0;
    std::uint32_t m_nextTile = 0;
};

}  // namespace ledge::io
