#include "io/geotiff/tile_writer.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstring>

#include "core/base/numbers.h"
#include "core/base/parallel.h"
#include "io/files/atomic_file.h"
#include "io/geotiff/geo_keys.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

std::uint16_t tiffCompression(Compression c) {
    switch (c) {
    case Compression::None: return COMPRESSION_NONE;
    case Compression::Lzw: return COMPRESSION_LZW;
    case Compression::Deflate: return COMPRESSION_ADOBE_DEFLATE;
    case Compression::Zstd: return COMPRESSION_ZSTD;
    }
    return COMPRESSION_NONE;
}

// Rounded half away from zero and kept within the type's range. Branch-free; NaN fails all
// comparisons.
template <typename Stored, typename T>
void store(const T* from, std::size_t count, double nodata, Stored* to) {
    if constexpr (std::is_integral_v<Stored>) {
        using Whole = std::conditional_t<sizeof(Stored) <= 2, std::int32_t, std::int64_t>;
        using Real = std::conditional_t<sizeof(Stored) <= 2, T, double>;
        constexpr auto kLeast = static_cast<Real>(std::numeric_limits<Stored>::lowest());
        constexpr auto kMost = static_cast<Real>(std::numeric_limits<Stored>::max());
        constexpr auto kHalf = static_cast<Real>(0.5);
        const auto missing =
            static_cast<Stored>(std::isnan(nodata) ? 0
                                                   : std::clamp(nodata, static_cast<double>(kLeast),
                                                                static_cast<double>(kMost)));
        for (std::size_t i = 0; i < count; ++i) {
            const auto v = static_cast<Real>(from[i]);
            const Real low = v > kLeast ? v : kLeast, kept = low < kMost ? low : kMost;
            const auto whole = static_cast<Whole>(kept);
            const Real part = kept - static_cast<Real>(whole);
            const auto cell = static_cast<Stored>(whole + (part >= kHalf) - (part <= -kHalf));
            to[i] = v == v ? cell : missing;
        }
    } else {
        const auto missing = static_cast<Stored>(nodata);
        for (std::size_t i = 0; i < count; ++i)
            to[i] = from[i] == from[i] ? static_cast<Stored>(from[i]) : missing;
    }
}

template <typename T>
void storeAs(CellType type, const T* from, std::size_t count, double nodata, std::byte* to) {
    const auto as = [&]<typename Stored>(Stored) {
        store(from, count, nodata, reinterpret_cast<Stored*>(to));
    };
    switch (type) {
    case CellType::UInt8: return as(std::uint8_t{});
    case CellType::Int8: return as(std::int8_t{});
    case CellType::UInt16: return as(std::uint16_t{});
    case CellType::Int16: return as(std::int16_t{});
    case CellType::UInt32: return as(std::uint32_t{});
    case CellType::Int32: return as(std::int32_t{});
    case CellType::Float32: return as(float{});
    case CellType::Float64: return as(double{});
    }
}

void setGeoTags(TIFF* tiff, const RasterInfo& info) {
    const Affine& t = info.toWorld;
    if (t.isNorthUp()) {
        const double scale[3] = {t.a, -t.e, 0};
        const double tie[6] = {0, 0, 0, t.c, t.f, 0};
        TIFFSetField(tiff, kTagPixelScale, 3, scale);
        TIFFSetField(tiff, kTagTiePoints, 6, tie);
    } else {
        const double matrix[16] = {t.a, t.b, 0, t.c, t.d, t.e, 0, t.f, 0, 0, 0, 0, 0, 0, 0, 1};
        TIFFSetField(tiff, kTagTransform, 16, matrix);
    }
    if (info.crs && hasGeoKeys(*info.crs)) {
        const GeoKeyTags keys = writeGeoKeys(*info.crs, info.bands.front().unit);
        TIFFSetField(tiff, kTagKeyDirectory, static_cast<int>(keys.directory.size()),
                     keys.directory.data());
        if (!keys.doubles.empty())
            TIFFSetField(tiff, kTagKeyDoubles, static_cast<int>(keys.doubles.size()),
                         keys.doubles.data());
        TIFFSetField(tiff, kTagKeyAscii, keys.ascii.c_str());
    }
}

int sampleFormat(CellType type) {
    if (isFloating(type)) return SAMPLEFORMAT_IEEEFP;
    return cellRange(type).first < 0 ? SAMPLEFORMAT_INT : SAMPLEFORMAT_UINT;
}

// Palette, red-green-blue or plain values, and what bands beyond those stand for.
void setColours(TIFF* tiff, const RasterInfo& info) {
    const BandInfo& band = info.bands.front();
    const std::size_t count = info.bands.size();
    if (count == 1 && !band.palette.empty() && band.type == CellType::UInt8) {
        std::array<std::vector<std::uint16_t>, 3> map;
        for (std::size_t i = 0; i < 256; ++i) {
            const Colour c = i < band.palette.size() ? band.palette[i] : Colour{};
            map[0].push_back(static_cast<std::uint16_t>(c.r * 257));
            map[1].push_back(static_cast<std::uint16_t>(c.g * 257));
            map[2].push_back(static_cast<std::uint16_t>(c.b * 257));
        }
        TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_PALETTE);
        TIFFSetField(tiff, TIFFTAG_COLORMAP, map[0].data(), map[1].data(), map[2].data());
        return;
    }
    const bool isColour = count >= 3 && band.role == BandRole::Red &&
                          info.bands[1].role == BandRole::Green &&
                          info.bands[2].role == BandRole::Blue;
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, isColour ? PHOTOMETRIC_RGB : PHOTOMETRIC_MINISBLACK);
    std::vector<std::uint16_t> extra;
    for (std::size_t i = isColour ? 3 : 1; i < count; ++i)
        extra.push_back(info.bands[i].role == BandRole::Alpha ? EXTRASAMPLE_UNASSALPHA
                                                              : EXTRASAMPLE_UNSPECIFIED);
    if (!extra.empty())
        TIFFSetField(tiff, TIFFTAG_EXTRASAMPLES, static_cast<int>(extra.size()), extra.data());
}
}  // namespace

void setImageTags(TIFF* tiff, const RasterInfo& info, Compression compression, bool isOverview) {
    const BandInfo& band = info.bands.front();
    if (isOverview) TIFFSetField(tiff, TIFFTAG_SUBFILETYPE, FILETYPE_REDUCEDIMAGE);
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, static_cast<std::uint32_t>(info.width));
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, static_cast<std::uint32_t>(info.height));
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, static_cast<int>(cellBytes(band.type)) * 8);
    TIFFSetField(tiff, TIFFTAG_SAMPLEFORMAT, sampleFormat(band.type));
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, static_cast<int>(info.bands.size()));
    TIFFSetField(tiff, TIFFTAG_PLANARCONFIG,
                 info.bands.size() > 1 ? PLANARCONFIG_SEPARATE : PLANARCONFIG_CONTIG);
    setColours(tiff, info);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, static_cast<int>(tiffCompression(compression)));
    if (const int predictor = predictorOf(compression, band.type); predictor != 1)
        TIFFSetField(tiff, TIFFTAG_PREDICTOR, predictor);
    TIFFSetField(tiff, TIFFTAG_TILEWIDTH, static_cast<std::uint32_t>(kTileSide));
    TIFFSetField(tiff, TIFFTAG_TILELENGTH, static_cast<std::uint32_t>(kTileSide));
    if (band.nodata)
        TIFFSetField(tiff, kTagNodata,
                     std::isnan(*band.nodata) ? "nan" : exactNumber(*band.nodata).c_str());
    if (!isOverview) setGeoTags(tiff, info);
}

TileWriter::TileWriter(fs::path target, RasterInfo info, Compression compression)
    : m_target(std::move(target)), m_info(std::move(info)), m_compression(compression) {
    for (BandInfo& band : m_info.bands) band.type = m_info.bands.front().type;
    const auto across = (static_cast<std::size_t>(m_info.width) + kTileSide - 1) / kTileSide;
    m_tiles.resize(across * kTileSide * kTileSide * cellBytes(m_info.bands.front().type));
}

Result<void> TileWriter::open(const fs::path& path, bool isOverview) {
    const double bytes = static_cast<double>(m_info.width) * static_cast<double>(m_info.height) *
                         static_cast<double>(cellBytes(m_info.bands.front().type)) *
                         static_cast<double>(m_info.bands.size());
    auto file = TiffFile::open(path, bytes > 3.9e9 ? "w8" : "w");
    if (!file)
        return ioFailure(m_target, "could not be created",
                         "check that the folder exists and can be written");
    m_file = *std::move(file);
    setImageTags(m_file->handle(), m_info, m_compression, isOverview);
    if (m_dotsPerInch > 0) {
        TIFFSetField(m_file->handle(), TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
        TIFFSetField(m_file->handle(), TIFFTAG_XRESOLUTION, m_dotsPerInch);
        TIFFSetField(m_file->handle(), TIFFTAG_YRESOLUTION, m_dotsPerInch);
    }
    return {};
}

bool TileWriter::isComplete() const { return m_band == m_info.bands.size(); }

Result<void> TileWriter::close() {
    if (TIFFWriteDirectory(m_file->handle()) != 1)
        return writeFailure(m_target, m_file->takeMessage());
    m_file->close();
    return {};
}

template <typename T>
Result<void> TileWriter::appendAny(BlockView<const T> rows) {
    const BandInfo& band = m_info.bands.front();
    const double nodata = band.nodata.value_or(isFloating(band.type) ? kNaN : 0);
    const std::size_t cell = cellBytes(band.type), tileBytes = kTileSide * kTileSide * cell;
    for (std::size_t first = 0; first < rows.rows();) {
        const std::size_t room =
            std::min(kTileSide - m_held, static_cast<std::size_t>(m_info.height - m_done));
        const std::size_t count = std::min(room, rows.rows() - first);
        parallelRanges(count, 32, [&](std::size_t begin, std::size_t end) {
            for (std::size_t r = begin; r < end; ++r) {
                const auto from = rows.row(first + r);
                for (std::size_t col = 0, tile = 0; col < from.size(); col += kTileSide, ++tile)
                    storeAs(band.type, from.data() + col, std::min(kTileSide, from.size() - col),
                            nodata,
                            m_tiles.data() + tile * tileBytes + (m_held + r) * kTileSide * cell);
            }
        });
        first += count, m_held += count, m_done += static_cast<std::int64_t>(count);
        if (m_held == kTileSide || m_done == m_info.height)
            if (const auto done = flush(); !done) return done;
        if (m_done == m_info.height) ++m_band, m_done = 0;
    }
    return {};
}
template Result<void> TileWriter::appendAny(BlockView<const float> rows);
template Result<void> TileWriter::appendAny(BlockView<const double> rows);

// Writes the held rows as one row of tiles.
Result<void> TileWriter::flush() {
    const CellType type = m_info.bands.front().type;
    const std::size_t tileBytes = kTileSide * kTileSide * cellBytes(type);
    const std::size_t count = m_tiles.size() / tileBytes;
    const auto tile = [&](std::size_t i) {
        return std::span(m_tiles).subspan(i * tileBytes, tileBytes);
    };
    if (m_held < kTileSide)  // what is below the last row stays the same whatever came before
        for (std::size_t i = 0; i < count; ++i) {
            const auto rest = tile(i).subspan(m_held * kTileSide * cellBytes(type));
            std::fill(rest.begin(), rest.end(), std::byte{0});
        }
    const bool isRaw = m_compression == Compression::Deflate || m_compression == Compression::Zstd;
    std::vector<std::optional<std::vector<std::byte>>> encoded(isRaw ? count : 0);
    if (isRaw)
        parallelRanges(count, 1, [&](std::size_t i, std::size_t) {
            encoded[i] = encodeTile(m_compression, type, tile(i));
        });
    for (std::size_t i = 0; i < count; ++i, ++m_nextTile) {
        tmsize_t done = -1;
        if (!isRaw)
            done = TIFFWriteEncodedTile(m_file->handle(), m_nextTile, tile(i).data(),
                                        static_cast<tmsize_t>(tileBytes));
        else if (encoded[i])
            done = TIFFWriteRawTile(m_file->handle(), m_nextTile, encoded[i]->data(),
                                    static_cast<tmsize_t>(encoded[i]->size()));
        if (done < 0) return writeFailure(m_target, m_file->takeMessage());
    }
    m_held = 0;
    return {};
}

}  // namespace ledge::io
