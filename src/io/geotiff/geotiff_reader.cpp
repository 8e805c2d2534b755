#include "io/geotiff/geotiff_reader.h"

#include <list>
#include <map>
#include <mutex>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/sidecars.h"
#include "io/geotiff/geo_keys.h"
#include "io/geotiff/tiff_file.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kCacheBytes = 96u << 20;
constexpr std::int64_t kLargestBlock = std::int64_t{1} << 30;

// How cells lie in blocks (strips or tiles).
struct Layout {
    std::int64_t width = 0, height = 0;
    std::int64_t blockCols = 0, blockRows = 0, blocksAcross = 1, blocksDown = 1;
    std::int64_t blockBytes = 0;
    int bands = 1;
    bool isTiled = false, isPlanar = false;
    CellType type = CellType::UInt8;
};

template <typename T>
T field(TIFF* tiff, std::uint32_t tag, T fallback) {
    T value = fallback;
    return TIFFGetFieldDefaulted(tiff, tag, &value) == 1 ? value : fallback;
}

std::optional<CellType> cellTypeOf(int bits, int format) {
    if (format == SAMPLEFORMAT_IEEEFP && bits == 32) return CellType::Float32;
    if (format == SAMPLEFORMAT_IEEEFP && bits == 64) return CellType::Float64;
    const bool isSigned = format == SAMPLEFORMAT_INT;
    if (!isSigned && format != SAMPLEFORMAT_UINT && format != SAMPLEFORMAT_VOID) return {};
    switch (bits) {
    case 8: return isSigned ? CellType::Int8 : CellType::UInt8;
    case 16: return isSigned ? CellType::Int16 : CellType::UInt16;
    case 32: return isSigned ? CellType::Int32 : CellType::UInt32;
    default: return {};
    }
}

Result<Layout> readLayout(const fs::path& path, TIFF* tiff) {
    Layout out;
    const auto width = field<std::uint32_t>(tiff, TIFFTAG_IMAGEWIDTH, 0);
    const auto height = field<std::uint32_t>(tiff, TIFFTAG_IMAGELENGTH, 0);
    const int bits = field<std::uint16_t>(tiff, TIFFTAG_BITSPERSAMPLE, 1);
    const int format = field<std::uint16_t>(tiff, TIFFTAG_SAMPLEFORMAT, SAMPLEFORMAT_UINT);
    out.bands = field<std::uint16_t>(tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
    if (width == 0 || height == 0 || out.bands == 0)
        return badFormat(path, "the header gives no size");
    const auto type = cellTypeOf(bits, format);
    if (!type)
        return Error{ErrorCode::Unsupported, nameOf(path),
                     "cells of " + std::to_string(bits) + " bits in sample format " +
                         std::to_string(format) + " are not supported",
                     "convert it to 8, 16 or 32-bit integers or floats"};
    out.type = *type;
    out.width = width, out.height = height;
    out.isPlanar = field<std::uint16_t>(tiff, TIFFTAG_PLANARCONFIG, 1) == PLANARCONFIG_SEPARATE;
    out.isTiled = TIFFIsTiled(tiff) != 0;
    if (out.isTiled) {
        out.blockCols = field<std::uint32_t>(tiff, TIFFTAG_TILEWIDTH, 0);
        out.blockRows = field<std::uint32_t>(tiff, TIFFTAG_TILELENGTH, 0);
    } else {
        out.blockCols = width;
        out.blockRows = std::min(field<std::uint32_t>(tiff, TIFFTAG_ROWSPERSTRIP, height), height);
    }
    if (out.blockCols <= 0 || out.blockRows <= 0) return badFormat(path, "its blocks have no size");
    out.blocksAcross = (out.width + out.blockCols - 1) / out.blockCols;
    out.blocksDown = (out.height + out.blockRows - 1) / out.blockRows;
    out.blockBytes = out.blockCols * out.blockRows * static_cast<std::int64_t>(cellBytes(*type)) *
                     (out.isPlanar ? 1 : out.bands);
    if (out.blockBytes > kLargestBlock || out.blockBytes <= 0)
        return Error{ErrorCode::LimitExceeded, nameOf(path),
                     "its header asks for blocks of over 1 GB",
                     "if the file is whole, rewrite it in tiles"};
    return out;
}

// A header can promise anything; the file's bytes cannot.
Result<void> checkAgainstFile(const fs::path& path, TIFF* tiff, const Layout& layout) {
    std::error_code code;
    const auto fileBytes = static_cast<double>(fs::file_size(path, code));
    const double cells = static_cast<double>(layout.width) * static_cast<double>(layout.height);
    const double blocks = static_cast<double>(layout.blocksAcross) *
                          static_cast<double>(layout.blocksDown) *
                          (layout.isPlanar ? layout.bands : 1);
    const double bytes = cells * static_cast<double>(cellBytes(layout.type)) * layout.bands;
    const std::string promised = formatNumber(static_cast<double>(layout.width)) + " × " +
                                 formatNumber(static_cast<double>(layout.height)) + " cells";
    const int compression = field<std::uint16_t>(tiff, TIFFTAG_COMPRESSION, COMPRESSION_NONE);
    // Each block needs at least two bytes of index; no common compression passes 1 : 20 000.
    const double least = compression == COMPRESSION_NONE ? bytes : bytes / 20000;
    if (blocks * 2 > fileBytes || least > fileBytes)
        return badFormat(path,
                         "the header promises " + promised + " but the file has only " +
                             formatNumber(fileBytes) + " bytes",
                         "the file is cut short or its header is wrong; get a fresh copy");
    return {};
}

std::vector<double> doublesOf(TIFF* tiff, std::uint32_t tag) {
    std::uint16_t count = 0;
    double* values = nullptr;
    if (TIFFGetField(tiff, tag, &count, &values) != 1 || !values) return {};
    return {values, values + count};
}

std::string textOf(TIFF* tiff, std::uint32_t tag) {
    char* text = nullptr;
    return TIFFGetField(tiff, tag, &text) == 1 && text ? text : "";
}

Affine placement(TIFF* tiff, bool pixelIsPoint, const Layout& layout,
                 std::vector<std::string>& notes) {
    Affine out;
    const auto scale = doublesOf(tiff, kTagPixelScale);
    const auto ties = doublesOf(tiff, kTagTiePoints);
    const auto matrix = doublesOf(tiff, kTagTransform);
    if (matrix.size() >= 16) {
        out = {matrix[0], matrix[1], matrix[3], matrix[4], matrix[5], matrix[7]};
    } else if (scale.size() >= 2 && ties.size() >= 6) {
        out = {scale[0], 0,         ties[3] - ties[0] * scale[0],
               0,        -scale[1], ties[4] + ties[1] * scale[1]};
    } else {
        notes.push_back("the file does not say where it lies; cells are placed at 1 unit each");
        return {1, 0, 0, 0, -1, static_cast<double>(layout.height)};
    }
    if (pixelIsPoint) out = out.after({1, 0, -0.5, 0, 1, -0.5});
    if (!out.isUsable()) {
        notes.push_back("its georeferencing is not usable; cells are placed at 1 unit each");
        return {1, 0, 0, 0, -1, static_cast<double>(layout.height)};
    }
    return out;
}

class GeoTiff final : public RasterSource {
public:
    GeoTiff(fs::path path, std::unique_ptr<TiffFile> file, Layout layout, RasterInfo info)
        : m_path(std::move(path)), m_file(std::move(file)), m_layout(layout),
          m_info(std::move(info)) {}

    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow w, BlockView<double> out) const override {
        return readAs(band, w, out);
    }
    Result<void> read(int band, CellWindow w, BlockView<float> out) const override {
        return readAs(band, w, out);
    }

private:
    using Block = std::shared_ptr<const std::vector<std::byte>>;

    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        if (band < 0 || band >= m_layout.bands || w.col < 0 || w.row < 0 ||
            w.col + w.cols > m_layout.width || w.row + w.rows > m_layout.height)
            return Error{ErrorCode::InvalidArgument, nameOf(m_path), "window outside the raster",
                         ""};
        if (w.isEmpty()) return {};
        const Layout& l = m_layout;
        for (std::int64_t br = w.row / l.blockRows; br <= (w.row + w.rows - 1) / l.blockRows;
             ++br) {
            for (std::int64_t bc = w.col / l.blockCols; bc <= (w.col + w.cols - 1) / l.blockCols;
                 ++bc) {
                std::int64_t index = br * l.blocksAcross + bc;
                if (l.isPlanar) index += band * l.blocksAcross * l.blocksDown;
                const auto block = fetch(index);
                if (!block) return block.error();
                copyBlock(**block, band, br, bc, w, out);
            }
        }
        return {};
    }

    template <typename T>
    void copyBlock(const std::vector<std::byte>& bytes, int band, std::int64_t br, std::int64_t bc,
                   CellWindow w, BlockView<T> out) const {
        switch (m_layout.type) {
        case CellType::UInt8: return copyCells<std::uint8_t>(bytes, band, br, bc, w, out);
        case CellType::Int8: return copyCells<std::int8_t>(bytes, band, br, bc, w, out);
        case CellType::UInt16: return copyCells<std::uint16_t>(bytes, band, br, bc, w, out);
        case CellType::Int16: return copyCells<std::int16_t>(bytes, band, br, bc, w, out);
        case CellType::UInt32: return copyCells<std::uint32_t>(bytes, band, br, bc, w, out);
        case CellType::Int32: return copyCells<std::int32_t>(bytes, band, br, bc, w, out);
        case CellType::Float32: return copyCells<float>(bytes, band, br, bc, w, out);
        case CellType::Float64: return copyCells<double>(bytes, band, br, bc, w, out);
        }
    }

    template <typename Stored, typename T>
    void copyCells(const std::vector<std::byte>& bytes, int band, std::int64_t br, std::int64_t bc,
                   CellWindow w, BlockView<T> out) const {
        const Layout& l = m_layout;
        const auto* cells = reinterpret_cast<const Stored*>(bytes.data());
        const std::int64_t step = l.isPlanar ? 1 : l.bands, shift = l.isPlanar ? 0 : band;
        const std::int64_t row0 = std::max(w.row, br * l.blockRows);
        const std::int64_t row1 = std::min(w.row + w.rows, (br + 1) * l.blockRows);
        const std::int64_t col0 = std::max(w.col, bc * l.blockCols);
        const std::int64_t col1 = std::min(w.col + w.cols, (bc + 1) * l.blockCols);
        const auto nodata = m_info.bands[static_cast<std::size_t>(band)].nodata;
        const auto missing = static_cast<Stored>(nodata.value_or(0));
        const T none = std::numeric_limits<T>::quiet_NaN();
        for (std::int64_t r = row0; r < row1; ++r) {
            const Stored* from =
                cells + ((r - br * l.blockRows) * l.blockCols + (col0 - bc * l.blockCols)) * step +
                shift;
            T* to =
                &out(static_cast<std::size_t>(r - w.row), static_cast<std::size_t>(col0 - w.col));
            for (std::int64_t c = 0; c < col1 - col0; ++c) {
                const Stored value = from[c * step];
                to[c] = nodata && value == missing ? none : static_cast<T>(value);
            }
        }
    }

    Result<Block> fetch(std::int64_t index) const {
        const std::lock_guard lock(m_mutex);
        if (const auto it = m_blocks.find(index); it != m_blocks.end()) {
            m_recent.splice(m_recent.begin(), m_recent, it->second.place);
            return it->second.block;
        }
        // Short last strips leave the rest at zero.
        auto bytes =
            std::make_shared<std::vector<std::byte>>(static_cast<std::size_t>(m_layout.blockBytes));
        const auto number = static_cast<std::uint32_t>(index);
        const tmsize_t got =
            m_layout.isTiled
                ? TIFFReadEncodedTile(m_file->handle(), number, bytes->data(), m_layout.blockBytes)
                : TIFFReadEncodedStrip(m_file->handle(), number, bytes->data(),
                                       m_layout.blockBytes);
        if (got < 0)
            return badFormat(m_path, std::string(m_layout.isTiled ? "tile " : "strip ") +
                                         std::to_string(index) +
                                         " cannot be read: " + m_file->takeMessage());
        const std::size_t most =
            std::max<std::size_t>(2, kCacheBytes / std::max<std::size_t>(1, bytes->size()));
        while (m_blocks.size() >= most) {
            m_blocks.erase(m_recent.back());
            m_recent.pop_back();
        }
        m_recent.push_front(index);
        m_blocks[index] = {bytes, m_recent.begin()};
        return Block(bytes);
    }

    struct Held {
        Block block;
        std::list<std::int64_t>::iterator place;
    };
    fs::path m_path;
    std::unique_ptr<TiffFile> m_file;
    Layout m_layout;
    RasterInfo m_info;
    // Guards the libtiff handle and the decoded blocks.
    mutable std::mutex m_mutex;
    mutable std::map<std::int64_t, Held> m_blocks;
    mutable std::list<std::int64_t> m_recent;
};

GeoKeyTags keyTags(TIFF* tiff) {
    GeoKeyTags tags;
    std::uint16_t count = 0;
    std::uint16_t* codes = nullptr;
    if (TIFFGetField(tiff, kTagKeyDirectory, &count, &codes) == 1 && codes)
        tags.directory.assign(codes, codes + count);
    tags.doubles = doublesOf(tiff, kTagKeyDoubles);
    tags.ascii = textOf(tiff, kTagKeyAscii);
    return tags;
}

int countOverviews(TIFF* tiff) {
    int count = 0;
    while (count < 64 && TIFFReadDirectory(tiff) == 1)
        if ((field<std::uint32_t>(tiff, TIFFTAG_SUBFILETYPE, 0) & FILETYPE_REDUCEDIMAGE) != 0)
            ++count;
    TIFFSetDirectory(tiff, 0);
    return count;
}
}  // namespace

Result<RasterPtr> openGeoTiff(const fs::path& path) {
    auto file = TiffFile::open(path, "r");
    if (!file) return file.error();
    TIFF* tiff = (*file)->handle();
    const auto layout = readLayout(path, tiff);
    if (!layout) return layout.error();
    if (const auto fine = checkAgainstFile(path, tiff, *layout); !fine) return fine.error();

    RasterInfo info;
    info.format = "GeoTIFF";
    info.width = layout->width, info.height = layout->height;
    GeoKeys keys = readGeoKeys(keyTags(tiff));
    info.crs = keys.crs;
    info.notes = std::move(keys.notes);
    if (!info.crs && sidecar(path, ".prj")) info.crs = crsBeside(path, info.notes);
    info.toWorld = placement(tiff, keys.pixelIsPoint, *layout, info.notes);
    BandInfo band{layout->type, parseNumber(textOf(tiff, kTagNodata)), ""};
    const auto [least, most] = cellRange(layout->type);
    if (band.nodata && !isFloating(layout->type) &&
        !(*band.nodata >= least && *band.nodata <= most &&
          *band.nodata == std::floor(*band.nodata)))
        band.nodata.reset();  // cannot occur in these cells
    info.bands.assign(static_cast<std::size_t>(layout->bands), band);
    if (isFloating(layout->type) && !band.nodata)
        for (BandInfo& b : info.bands) b.nodata = kNaN;
    info.overviews = countOverviews(tiff);
    return RasterPtr(std::make_shared<GeoTiff>(path, *std::move(file), *layout, std::move(info)));
}

}  // namespace ledge::io
