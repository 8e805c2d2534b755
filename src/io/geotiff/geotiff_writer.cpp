#include "io/geotiff/geotiff_writer.h"

#include <cmath>
#include <cstring>

#include "core/base/numbers.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "io/geotiff/geo_keys.h"
#include "io/geotiff/tiff_file.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kTile = 256;

std::uint16_t tiffCompression(Compression c) {
    switch (c) {
    case Compression::None: return COMPRESSION_NONE;
    case Compression::Lzw: return COMPRESSION_LZW;
    case Compression::Deflate: return COMPRESSION_ADOBE_DEFLATE;
    case Compression::Zstd: return COMPRESSION_ZSTD;
    }
    return COMPRESSION_NONE;
}

template <typename Stored>
void store(std::span<const double> from, double nodata, std::byte* to) {
    const auto [least, most] = std::pair{static_cast<double>(std::numeric_limits<Stored>::lowest()),
                                         static_cast<double>(std::numeric_limits<Stored>::max())};
    for (const double value : from) {
        const double v = std::isnan(value) ? nodata : value;
        Stored cell;
        if constexpr (std::is_integral_v<Stored>)
            cell = static_cast<Stored>(std::isnan(v) ? 0 : std::clamp(std::round(v), least, most));
        else
            cell = static_cast<Stored>(v);
        std::memcpy(to, &cell, sizeof(Stored));
        to += sizeof(Stored);
    }
}

void storeAs(CellType type, std::span<const double> from, double nodata, std::byte* to) {
    switch (type) {
    case CellType::UInt8: return store<std::uint8_t>(from, nodata, to);
    case CellType::Int8: return store<std::int8_t>(from, nodata, to);
    case CellType::UInt16: return store<std::uint16_t>(from, nodata, to);
    case CellType::Int16: return store<std::int16_t>(from, nodata, to);
    case CellType::UInt32: return store<std::uint32_t>(from, nodata, to);
    case CellType::Int32: return store<std::int32_t>(from, nodata, to);
    case CellType::Float32: return store<float>(from, nodata, to);
    case CellType::Float64: return store<double>(from, nodata, to);
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
        const GeoKeyTags keys = writeGeoKeys(*info.crs);
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

void setTags(TIFF* tiff, const RasterInfo& info, Compression compression) {
    const BandInfo& band = info.bands.front();
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, static_cast<std::uint32_t>(info.width));
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, static_cast<std::uint32_t>(info.height));
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, static_cast<int>(cellBytes(band.type)) * 8);
    TIFFSetField(tiff, TIFFTAG_SAMPLEFORMAT, sampleFormat(band.type));
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, static_cast<int>(info.bands.size()));
    TIFFSetField(tiff, TIFFTAG_PLANARCONFIG,
                 info.bands.size() > 1 ? PLANARCONFIG_SEPARATE : PLANARCONFIG_CONTIG);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, PHOTOMETRIC_MINISBLACK);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, static_cast<int>(tiffCompression(compression)));
    if (compression != Compression::None && cellBytes(band.type) < 8)
        TIFFSetField(tiff, TIFFTAG_PREDICTOR,
                     isFloating(band.type) ? PREDICTOR_FLOATINGPOINT : PREDICTOR_HORIZONTAL);
    TIFFSetField(tiff, TIFFTAG_TILEWIDTH, static_cast<std::uint32_t>(kTile));
    TIFFSetField(tiff, TIFFTAG_TILELENGTH, static_cast<std::uint32_t>(kTile));
    if (band.nodata)
        TIFFSetField(tiff, kTagNodata,
                     std::isnan(*band.nodata) ? "nan" : exactNumber(*band.nodata).c_str());
    setGeoTags(tiff, info);
}

class GeoTiffSink final : public RasterSink {
public:
    GeoTiffSink(const fs::path& path, RasterInfo info) : m_target(path), m_info(std::move(info)) {}

    Result<void> open(Compression compression) {
        const double bytes = static_cast<double>(m_info.width) *
                             static_cast<double>(m_info.height) *
                             static_cast<double>(cellBytes(m_info.bands.front().type)) *
                             static_cast<double>(m_info.bands.size());
        auto file = TiffFile::open(m_target.temporary(), bytes > 3.9e9 ? "w8" : "w");
        if (!file)
            return ioFailure(m_target.target(), "could not be created",
                             "check that the folder exists and can be written");
        m_file = *std::move(file);
        setTags(m_file->handle(), m_info, compression);
        m_rows = Grid<double>(kTile, static_cast<std::size_t>(m_info.width));
        return {};
    }

    Result<void> append(BlockView<const float> rows) override { return appendAny(rows); }
    Result<void> append(BlockView<const double> rows) override { return appendAny(rows); }

    Result<void> finish() override {
        if (m_band != static_cast<int>(m_info.bands.size()))
            return Error{ErrorCode::InvalidArgument, nameOf(m_target.target()),
                         "not all rows were written", ""};
        if (TIFFWriteDirectory(m_file->handle()) != 1)
            return ioFailure(m_target.target(), m_file->takeMessage(), "check free space");
        m_file->close();
        if (m_info.crs && !hasGeoKeys(*m_info.crs)) {
            fs::path prj = m_target.target();
            prj.replace_extension(".prj");
            if (const auto done = writeText(prj, crs::toWkt(*m_info.crs)); !done) return done;
        }
        return m_target.commit();
    }

private:
    template <typename T>
    Result<void> appendAny(BlockView<const T> rows) {
        for (std::size_t r = 0; r < rows.rows(); ++r) {
            const auto from = rows.row(r);
            std::copy(from.begin(), from.end(), m_rows.row(m_held).begin());
            ++m_held, ++m_done;
            if (m_held == kTile || m_done == m_info.height)
                if (const auto done = flush(); !done) return done;
            if (m_done == m_info.height) ++m_band, m_done = 0;
        }
        return {};
    }

    // Writes the held rows as one row of tiles.
    Result<void> flush() {
        const BandInfo& band = m_info.bands.front();
        const std::size_t cell = cellBytes(band.type), width = m_rows.cols();
        const double nodata = band.nodata.value_or(isFloating(band.type) ? kNaN : 0);
        std::vector<std::byte> tile(kTile * kTile * cell);
        for (std::size_t col = 0; col < width; col += kTile) {
            std::fill(tile.begin(), tile.end(), std::byte{0});
            const std::size_t cols = std::min(kTile, width - col);
            for (std::size_t r = 0; r < m_held; ++r)
                storeAs(band.type, m_rows.row(r).subspan(col, cols), nodata,
                        tile.data() + r * kTile * cell);
            if (TIFFWriteEncodedTile(m_file->handle(), m_nextTile++, tile.data(),
                                     static_cast<tmsize_t>(tile.size())) < 0)
                return ioFailure(m_target.target(), m_file->takeMessage(),
                                 "check that the disk has free space");
        }
        m_held = 0;
        return {};
    }

    AtomicFile m_target;  // outlives the handle below, so that a partial file is removed last
    RasterInfo m_info;
    std::unique_ptr<TiffFile> m_file;
    Grid<double> m_rows;
    std::size_t m_held = 0;
    std::int64_t m_done = 0;
    int m_band = 0;
    std::uint32_t m_nextTile = 0;
};
}  // namespace

Result<std::unique_ptr<RasterSink>> createGeoTiff(const fs::path& path, const RasterInfo& info,
                                                  Compression compression) {
    if (info.width <= 0 || info.height <= 0 || info.bands.empty())
        return Error{ErrorCode::InvalidArgument, nameOf(path), "a raster of no size", ""};
    auto sink = std::make_unique<GeoTiffSink>(path, info);
    if (const auto done = sink->open(compression); !done) return done.error();
    return std::unique_ptr<RasterSink>(std::move(sink));
}

Result<void> copyToGeoTiff(const RasterSource& source, const fs::path& path,
                           Compression compression, const Progress& progress) {
    const RasterInfo& info = source.info();
    auto sink = createGeoTiff(path, info, compression);
    if (!sink) return sink.error();
    constexpr std::int64_t kRows = 64;
    Grid<double> rows(kRows, static_cast<std::size_t>(info.width));
    const auto bands = static_cast<int>(info.bands.size());
    for (int band = 0; band < bands; ++band) {
        for (std::int64_t row = 0; row < info.height; row += kRows) {
            if (progress.stopped()) return cancelled(nameOf(path));
            const std::int64_t count = std::min(kRows, info.height - row);
            const auto part = rows.view().part(0, 0, static_cast<std::size_t>(count), rows.cols());
            if (const auto done = source.read(band, {0, row, info.width, count}, part); !done)
                return done.error();
            if (const auto done = (*sink)->append(BlockView<const double>(part)); !done)
                return done.error();
            progress.at((band + static_cast<double>(row) / static_cast<double>(info.height)) /
                        bands);
        }
    }
    return (*sink)->finish();
}

}  // namespace ledge::io
