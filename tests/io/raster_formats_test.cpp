#include <QTemporaryDir>
#include <QTest>

#include <sqlite3.h>
#include <tiffio.h>

#include "core/base/random.h"
#include "core/raster/block_cache.h"
#include "core/raster/pyramid.h"
#include "io/files/atomic_file.h"
#include "io/files/world_file.h"
#include "io/registry.h"

using namespace ledge;
namespace fs = std::filesystem;

namespace {
constexpr double kNo = std::numeric_limits<double>::quiet_NaN();

// A small TIFF made tag by tag, so that reading is tested against what others write.
class TiffMaker {
public:
    TiffMaker(const fs::path& path, const char* mode) : m_tiff(TIFFOpen(path.c_str(), mode)) {}
    ~TiffMaker() { TIFFClose(m_tiff); }

    TIFF* operator*() { return m_tiff; }
    void image(std::uint32_t width, std::uint32_t height, int bits, int format = 1,
               int photometric = 1, int compression = 1, std::uint32_t subfile = 0) {
        TIFFSetField(m_tiff, TIFFTAG_SUBFILETYPE, subfile);
        TIFFSetField(m_tiff, TIFFTAG_IMAGEWIDTH, width);
        TIFFSetField(m_tiff, TIFFTAG_IMAGELENGTH, height);
        TIFFSetField(m_tiff, TIFFTAG_BITSPERSAMPLE, bits);
        TIFFSetField(m_tiff, TIFFTAG_SAMPLEFORMAT, format);
        TIFFSetField(m_tiff, TIFFTAG_SAMPLESPERPIXEL, 1);
        TIFFSetField(m_tiff, TIFFTAG_PLANARCONFIG, 1);
        TIFFSetField(m_tiff, TIFFTAG_PHOTOMETRIC, photometric);
        TIFFSetField(m_tiff, TIFFTAG_COMPRESSION, compression);
    }
    void strips(std::uint32_t rows) { TIFFSetField(m_tiff, TIFFTAG_ROWSPERSTRIP, rows); }
    void tiles(std::uint32_t side) {
        TIFFSetField(m_tiff, TIFFTAG_TILEWIDTH, side);
        TIFFSetField(m_tiff, TIFFTAG_TILELENGTH, side);
    }
    template <typename T>
    void row(std::uint32_t r, std::vector<T> cells) {
        TIFFWriteScanline(m_tiff, cells.data(), r);
    }
    template <typename T>
    void tile(std::uint32_t n, std::vector<T> cells) {
        TIFFWriteEncodedTile(m_tiff, n, cells.data(), tmsize_t(cells.size() * sizeof(T)));
    }
    void next() { TIFFWriteDirectory(m_tiff); }

private:
    TIFF* m_tiff;
};

RasterPtr opened(const fs::path& path) {
    const auto source = io::openSource(path);
    if (!source) {
        qWarning("%s", source.error().text().c_str());
        return {};
    }
    return std::get<RasterPtr>(*source);
}

Grid<double> cellsOf(const RasterSource& raster, int band = 0) {
    const RasterInfo& info = raster.info();
    Grid<double> out(std::size_t(info.height), std::size_t(info.width));
    if (!raster.read(band, info.whole(), out.view())) out = {};
    return out;
}

RasterInfo smallInfo(CellType type, std::int64_t width, std::int64_t height,
                     std::optional<double> nodata = {}) {
    RasterInfo info;
    info.width = width, info.height = height;
    info.toWorld = {10, 0, 400000, 0, -10, 6830000};
    info.crs = *crs::crsFromCode(32629);
    info.bands = {{type, nodata, ""}};
    return info;
}

// Several bands held in memory.
class Held final : public RasterSource {
public:
    Held(RasterInfo info, std::function<double(int, std::size_t, std::size_t)> value)
        : m_info(std::move(info)), m_value(std::move(value)) {}
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int band, CellWindow w, BlockView<double> out) const override {
        return fill(band, w, out);
    }
    Result<void> read(int band, CellWindow w, BlockView<float> out) const override {
        return fill(band, w, out);
    }

private:
    template <typename T>
    Result<void> fill(int band, CellWindow w, BlockView<T> out) const {
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c)
                out(r, c) = T(m_value(band, std::size_t(w.row) + r, std::size_t(w.col) + c));
        return {};
    }
    RasterInfo m_info;
    std::function<double(int, std::size_t, std::size_t)> m_value;
};
}  // namespace

class RasterFormatsTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    fs::path path(const std::string& name) const {
        return fs::path(m_dir.path().toStdString()) / name;
    }

private slots:
    void writesOverviewsInOrder_data() {
        QTest::addColumn<int>("compression");
        for (int i = 0; i < 4; ++i) QTest::addRow("%d", i) << i;
    }
    void writesOverviewsInOrder() {
        QFETCH(int, compression);
        const Held held(smallInfo(CellType::Float32, 1500, 777, -9999.0),
                        [](int, std::size_t r, std::size_t c) {
                            return r < 10 && c < 10 ? kNo : double(r) + 2 * double(c);
                        });
        const fs::path file = path("overviews.tif");
        const auto done =
            io::writeRaster(held, file, {static_cast<io::Compression>(compression), true}, {});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        const auto raster = opened(file);
        QVERIFY(raster != nullptr);
        QCOMPARE(raster->info().overviews, 3);
        const auto levels = raster->overviews();
        QCOMPARE(levels[0]->info().width, std::int64_t{750});
        QCOMPARE(levels[2]->info().width, std::int64_t{188});
        QCOMPARE(levels[2]->info().height, std::int64_t{98});
        const auto full = cellsOf(*raster), half = cellsOf(*levels[0]), least = cellsOf(*levels[2]);
        QCOMPARE(full(700, 1400), 3500.0);
        QVERIFY(std::isnan(full(3, 3)));
        // Means of four cells; of the two that there are at the lower rim.
        QCOMPARE(half(100, 200), 200.5 + 2 * 400.5);
        QCOMPARE(half(388, 200), 776 + 2 * 400.5);
        QVERIFY(std::isnan(half(2, 2)));
        QVERIFY(std::abs(least(50, 100) - (403.5 + 2 * 803.5)) < 1e-3);
        // Nothing but the file itself is left.
        for (const auto& entry : fs::directory_iterator(m_dir.path().toStdString()))
            QVERIFY2(entry.path().extension() != ".part", entry.path().c_str());
        // Directories come first, the coarsest cells next, the full ones last.
        TIFF* tiff = TIFFOpen(file.c_str(), "r");
        std::uint64_t lastDirectory = 0, before = std::numeric_limits<std::uint64_t>::max();
        std::vector<std::uint64_t> firstTiles;
        do {
            lastDirectory = std::max(lastDirectory, TIFFCurrentDirOffset(tiff));
            firstTiles.push_back(TIFFGetStrileOffset(tiff, 0));
        } while (TIFFReadDirectory(tiff) == 1);
        TIFFClose(tiff);
        QCOMPARE(firstTiles.size(), std::size_t{4});
        for (const std::uint64_t at : firstTiles) {
            QVERIFY(at > lastDirectory && at < before);
            before = at;
        }
    }

    void drawsFromOverviews() {
        // Overviews that say something else than the cells show where pictures come from.
        const fs::path file = path("told.tif");
        {
            TiffMaker t(file, "w");
            t.image(512, 512, 8, 1, 1, COMPRESSION_LZW);
            t.tiles(256);
            for (std::uint32_t i = 0; i < 4; ++i) t.tile(i, std::vector<std::uint8_t>(65536, 10));
            t.next();
            t.image(256, 256, 8, 1, 1, COMPRESSION_LZW, FILETYPE_REDUCEDIMAGE);
            t.tiles(256);
            t.tile(0, std::vector<std::uint8_t>(65536, 77));
            t.next();
        }
        const Pyramid pyramid(opened(file), 0);
        QVERIFY(pyramid.hasOverviews());
        QCOMPARE((*pyramid.read(0, {5, 5, 2, 2}))(0, 0), 10.0F);
        QCOMPARE((*pyramid.read(1, {5, 5, 2, 2}))(0, 0), 77.0F);
        QCOMPARE((*pyramid.read(3, {5, 5, 2, 2}))(0, 0), 77.0F);
        QCOMPARE(valueAt(pyramid.source(), 0, {100, 100}), 10.0);
    }

    void readsOverviewsAndMasksBesideTheFile() {
        const fs::path file = path("beside.tif");
        {
            TiffMaker t(file, "w");
            t.image(64, 64, 16, 2);
            t.strips(64);
            for (std::uint32_t r = 0; r < 64; ++r)
                t.row(r, std::vector<std::int16_t>(64, std::int16_t(r)));
        }
        {
            TiffMaker t(file.string() + ".ovr", "w");
            t.image(32, 32, 16, 2);
            t.strips(32);
            for (std::uint32_t r = 0; r < 32; ++r) t.row(r, std::vector<std::int16_t>(32, 5));
        }
        {
            TiffMaker t(file.string() + ".msk", "w");
            t.image(64, 64, 1, 1, PHOTOMETRIC_MASK, 1, FILETYPE_MASK);
            t.strips(64);
            for (std::uint32_t r = 0; r < 64; ++r)
                t.row(r, std::vector<std::uint8_t>{0xFF, 0xFF, 0xFF, 0xFF, 0, 0, 0, 0x01});
        }
        const auto raster = opened(file);
        QCOMPARE(raster->info().overviews, 1);
        const auto cells = cellsOf(*raster);
        QCOMPARE(cells(40, 31), 40.0);
        QVERIFY(std::isnan(cells(40, 32)));
        QVERIFY(std::isnan(cells(40, 62)));
        QCOMPARE(cells(40, 63), 40.0);
    }

    void readsWhatOthersStore_data() {
        QTest::addColumn<int>("bits");
        QTest::addColumn<int>("compression");
        QTest::addColumn<QByteArray>("mode");
        for (const char* mode : {"w", "wb", "w8"})
            for (const int bits : {1, 4, 8, 16, 32})
                for (const int compression :
                     {COMPRESSION_NONE, COMPRESSION_LZW, COMPRESSION_ADOBE_DEFLATE,
                      COMPRESSION_PACKBITS, COMPRESSION_ZSTD, COMPRESSION_LZMA})
                    QTest::addRow("%d bits, compression %d, mode %s", bits, compression, mode)
                        << bits << compression << QByteArray(mode);
    }
    void readsWhatOthersStore() {
        QFETCH(int, bits);
        QFETCH(int, compression);
        QFETCH(QByteArray, mode);
        const fs::path file = path("stored.tif");
        const auto value = [&](std::uint32_t r, std::uint32_t c) {
            return (r * 7 + c * 3) % (bits >= 16 ? 60000u : (1u << bits));
        };
        constexpr std::uint32_t kSide = 50;
        {
            TiffMaker t(file, mode == "wb" ? "wb" : mode.constData());
            t.image(kSide, kSide, bits, 1, 1, compression);
            t.strips(16);
            if (bits >= 8 &&
                (compression == COMPRESSION_LZW || compression == COMPRESSION_ADOBE_DEFLATE))
                TIFFSetField(*t, TIFFTAG_PREDICTOR, PREDICTOR_HORIZONTAL);
            for (std::uint32_t r = 0; r < kSide; ++r) {
                std::vector<std::uint8_t> bytes((kSide * std::uint32_t(bits) + 7) / 8);
                for (std::uint32_t c = 0; c < kSide; ++c) {
                    const std::uint32_t v = value(r, c);
                    if (bits >= 8)
                        std::memcpy(bytes.data() + c * std::uint32_t(bits) / 8, &v,
                                    std::size_t(bits) / 8);
                    else
                        bytes[c * std::uint32_t(bits) / 8] = std::uint8_t(
                            bytes[c * std::uint32_t(bits) / 8] |
                            (v << (8 - std::uint32_t(bits) * (c % (8 / std::uint32_t(bits)) + 1))));
                }
                t.row(r, bytes);
            }
        }
        const auto raster = opened(file);
        QVERIFY(raster != nullptr);
        const auto cells = cellsOf(*raster);
        for (std::uint32_t r = 0; r < kSide; ++r)
            for (std::uint32_t c = 0; c < kSide; ++c) QCOMPARE(cells(r, c), double(value(r, c)));
        QVERIFY(raster->damage().empty());
    }

    void readsHalfFloatsPalettesScalesAndWorldFiles() {
        {
            TiffMaker t(path("half.tif"), "w");
            t.image(4, 1, 16, SAMPLEFORMAT_IEEEFP);
            t.strips(1);
            t.row(0, std::vector<std::uint16_t>{0x3C00, 0xC000, 0x0001, 0x7E00});
        }
        const auto half = cellsOf(*opened(path("half.tif")));
        QCOMPARE(half(0, 0), 1.0);
        QCOMPARE(half(0, 1), -2.0);
        QCOMPARE(half(0, 2), std::ldexp(1.0, -24));
        QVERIFY(std::isnan(half(0, 3)));
        {
            TiffMaker t(path("classes.tif"), "w");
            std::vector<std::uint16_t> r(16), g(16), b(16);
            r[3] = 0xFFFF, g[3] = 0x8080, b[3] = 0;
            t.image(2, 1, 4, 1, PHOTOMETRIC_PALETTE);
            t.strips(1);
            TIFFSetField(*t, TIFFTAG_COLORMAP, r.data(), g.data(), b.data());
            t.row(0, std::vector<std::uint8_t>{0x3C});
        }
        const auto classes = opened(path("classes.tif"));
        QCOMPARE(cellsOf(*classes)(0, 1), 12.0);
        QCOMPARE(classes->info().bands[0].palette.size(), std::size_t{16});
        QCOMPARE(classes->info().bands[0].palette[3], (Colour{255, 128, 0}));
        {
            TiffMaker t(path("scaled.tif"), "w");
            t.image(3, 2, 16, 2);
            t.strips(2);
            t.row(0, std::vector<std::int16_t>{100, -32768, 0});
            t.row(1, std::vector<std::int16_t>{1, 2, 3});
        }
        QVERIFY(io::writeText(path("scaled.tfw"), "2\n0\n0\n-2\n11\n19\n").has_value());
        const auto plain = opened(path("scaled.tif"));
        QCOMPARE(plain->info().toWorld, (Affine{2, 0, 10, 0, -2, 20}));
        QCOMPARE(cellsOf(*plain)(0, 0), 100.0);
    }

    void countsDamagedTilesAsNodataAndTellsOnce() {
        const Held held(smallInfo(CellType::Float32, 600, 600, -1.0),
                        [](int, std::size_t r, std::size_t c) { return double(r * 31 + c % 7); });
        const fs::path file = path("damaged.tif");
        QVERIFY(io::writeRaster(held, file, io::Compression::Deflate, {}).has_value());
        TIFF* tiff = TIFFOpen(file.c_str(), "r");
        const std::uint64_t at = TIFFGetStrileOffset(tiff, 4),
                            size = TIFFGetStrileByteCount(tiff, 4);
        TIFFClose(tiff);
        std::string bytes = *io::readText(file);
        for (std::uint64_t i = 0; i < size; ++i) bytes[at + i] = char(i * 37);
        QVERIFY(io::writeText(file, bytes).has_value());
        const auto raster = opened(file);
        QVERIFY(raster->damage().empty());
        for (int pass = 0; pass < 2; ++pass) {
            const auto cells = cellsOf(*raster);
            QVERIFY(std::isnan(cells(300, 300)));
            QCOMPARE(cells(100, 300), held.info().width > 0 ? 100.0 * 31 + 300 % 7 : 0);
            QCOMPARE(cells(599, 599), 599.0 * 31 + 599 % 7);
        }
        QCOMPARE(raster->damage().size(), std::size_t{1});
        QVERIFY(raster->damage()[0].find("tile 4") != std::string::npos);
        QVERIFY(raster->damage()[0].find("column 256, row 256") != std::string::npos);
    }

    void readsTilesNeverWrittenAsNodata() {
        {
            TiffMaker t(path("sparse.tif"), "w");
            t.image(512, 256, 8, 1, 1, COMPRESSION_LZW);
            t.tiles(256);
            t.tile(1, std::vector<std::uint8_t>(65536, 9));
        }
        const auto raster = opened(path("sparse.tif"));
        const auto cells = cellsOf(*raster);
        QVERIFY(std::isnan(cells(10, 10)));
        QCOMPARE(cells(10, 300), 9.0);
        QVERIFY(raster->damage().empty());
    }

    void keepsPictures_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("type");
        QTest::addColumn<int>("bands");
        QTest::addColumn<bool>("hasNodata");
        QTest::newRow("grey PNG") << "p.png" << int(CellType::UInt8) << 1 << false;
        QTest::newRow("grey PNG, missing") << "p.png" << int(CellType::UInt8) << 1 << true;
        QTest::newRow("deep PNG") << "p.png" << int(CellType::UInt16) << 1 << false;
        QTest::newRow("colour PNG") << "p.png" << int(CellType::UInt8) << 3 << false;
        QTest::newRow("colour PNG, missing") << "p.png" << int(CellType::UInt8) << 3 << true;
        QTest::newRow("grey JPEG") << "p.jpg" << int(CellType::UInt8) << 1 << false;
        QTest::newRow("colour JPEG") << "p.jpeg" << int(CellType::UInt8) << 3 << false;
    }
    void keepsPictures() {
        QFETCH(QString, name);
        QFETCH(int, type);
        QFETCH(int, bands);
        QFETCH(bool, hasNodata);
        RasterInfo info = smallInfo(static_cast<CellType>(type), 130, 90,
                                    hasNodata ? std::optional(0.0) : std::nullopt);
        info.bands.resize(std::size_t(bands), info.bands[0]);
        const double most = type == int(CellType::UInt8) ? 255 : 65535;
        const auto value = [&](int b, std::size_t r, std::size_t c) {
            if (hasNodata && r < 5) return kNo;
            return std::round(most * (double(r + c) / 240 + 0.02 * b));
        };
        const fs::path file = path(name.toStdString());
        const auto done = io::writeRaster(Held(info, value), file, {}, {});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        const auto back = opened(file);
        QVERIFY(back != nullptr);
        QCOMPARE(back->info().toWorld, info.toWorld);
        QCOMPARE(back->info().crs->code, 32629);
        QCOMPARE(back->info().bands.size(), std::size_t(bands + (hasNodata ? 1 : 0)));
        const double allowed = name.endsWith("png") ? 0 : 12;
        for (int b = 0; b < bands; ++b) {
            const auto cells = cellsOf(*back, b);
            for (std::size_t r = 6; r < 90; ++r)
                for (std::size_t c = 0; c < 130; ++c)
                    QVERIFY(std::abs(cells(r, c) - value(b, r, c)) <= allowed);
        }
        if (hasNodata) {
            const auto alpha = cellsOf(*back, bands);
            QCOMPARE(alpha(2, 50), 0.0);
            QCOMPARE(alpha(60, 50), 255.0);
        }
    }

    void keepsPalettes() {
        RasterInfo info = smallInfo(CellType::UInt8, 600, 20);
        info.bands[0].palette = {{1, 2, 3}, {200, 100, 50}, {9, 9, 9}};
        const Held held(info, [](int, std::size_t, std::size_t c) { return double(c % 3); });
        for (const char* name : {"palette.tif", "palette.png"}) {
            QVERIFY(
                io::writeRaster(held, path(name), {io::Compression::Lzw, true}, {}).has_value());
            const auto back = opened(path(name));
            QCOMPARE(back->info().bands[0].palette[1], (Colour{200, 100, 50}));
            QCOMPARE(cellsOf(*back)(7, 301), double(301 % 3));
        }
        // Classes are picked for overviews, never mixed.
        const auto half = cellsOf(*opened(path("palette.tif"))->overviews().at(0));
        for (std::size_t c = 0; c < 300; ++c) QCOMPARE(half(3, c), double(2 * c % 3));
    }

    void refusesPicturesOfHeights() {
        const Held held(smallInfo(CellType::Float32, 10, 10),
                        [](int, std::size_t, std::size_t) { return 0.5; });
        for (const char* name : {"no.png", "no.jpg"}) {
            const auto done = io::writeRaster(held, path(name), {}, {});
            QVERIFY(!done);
            QVERIFY(!done.error().mend.empty());
            QVERIFY(!fs::exists(path(name)));
        }
    }

    void survivesDamagedPictures() {
        RasterInfo info = smallInfo(CellType::UInt8, 60, 40);
        const Held held(info, [](int, std::size_t r, std::size_t c) { return double(r + c); });
        Random random(5);
        for (const char* name : {"noise.png", "noise.jpg"}) {
            QVERIFY(io::writeRaster(held, path(name), {}, {}).has_value());
            const std::string bytes = *io::readText(path(name));
            for (int i = 0; i < 200; ++i) {
                std::string noisy =
                    bytes.substr(0, std::size_t(random.below(int(bytes.size()))) + 1);
                for (int k = 0; k < 4; ++k)
                    noisy[std::size_t(random.below(int(noisy.size())))] = char(random.below(256));
                QVERIFY(io::writeText(path(name), noisy).has_value());
                const auto source = io::openSource(path(name));
                if (!source) {
                    QVERIFY(!source.error().why.empty());
                    continue;
                }
                if (const auto* raster = std::get_if<RasterPtr>(&*source);
                    raster && (*raster)->info().width * (*raster)->info().height < 1'000'000)
                    (void)cellsOf(**raster);
            }
        }
    }

    void placesPicturesByWorldFiles_data() {
        QTest::addColumn<QString>("picture");
        QTest::addColumn<QString>("world");
        QTest::newRow("png") << "w.png"
                             << "w.pgw";
        QTest::newRow("png, long") << "w.png"
                                   << "w.pngw";
        QTest::newRow("jpg") << "w.jpg"
                             << "w.jgw";
        QTest::newRow("jpeg, long") << "w.jpeg"
                                    << "w.jpegw";
        QTest::newRow("plain") << "w.png"
                               << "w.wld";
    }
    void placesPicturesByWorldFiles() {
        QFETCH(QString, picture);
        QFETCH(QString, world);
        const Affine turned{3, 1, 100, 0.5, -2, 900};
        std::vector<std::string> notes;
        const fs::path base = path("worlds_" + world.section('.', 1).toStdString());
        fs::create_directory(base);
        QVERIFY(io::writeText(base / world.toStdString(), io::worldFileText(turned)).has_value());
        const auto back = io::worldFileBeside(base / picture.toStdString(), notes);
        QVERIFY(back.has_value());
        QVERIFY(std::abs(back->c - 100) < 1e-9 && std::abs(back->f - 900) < 1e-9);
        QCOMPARE(back->b, 1.0);
        QCOMPARE(back->d, 0.5);
        QVERIFY(io::writeText(base / world.toStdString(), "1\n2\nthree\n").has_value());
        QVERIFY(!io::worldFileBeside(base / picture.toStdString(), notes));
        QCOMPARE(notes.size(), std::size_t{1});
    }

    void readsTilesOfAGeoPackage() {
        const fs::path file = path("tiles.gpkg");
        // Two zoom levels of red tiles whose green tells the zoom level; one tile is missing, one
        // is no picture.
        RasterInfo info = smallInfo(CellType::UInt8, 256, 256);
        info.bands.resize(3, info.bands[0]);
        const auto tileBytes = [&](double zoom) {
            const Held held(info, [zoom](int b, std::size_t, std::size_t c) {
                return b == 0 ? 200.0 : b == 1 ? zoom : double(c);
            });
            if (!io::writeRaster(held, path("tile.png"), {}, {})) return std::string();
            return *io::readText(path("tile.png"));
        };
        sqlite3* db = nullptr;
        QCOMPARE(sqlite3_open(file.c_str(), &db), SQLITE_OK);
        const char* schema =
            "CREATE TABLE gpkg_contents(table_name, data_type);"
            "CREATE TABLE gpkg_spatial_ref_sys(srs_id, organization, organization_coordsys_id, "
            "definition);"
            "CREATE TABLE gpkg_tile_matrix_set(table_name, srs_id, min_x, min_y, max_x, max_y);"
            "CREATE TABLE gpkg_tile_matrix(table_name, zoom_level, matrix_width, matrix_height, "
            "tile_width, tile_height, pixel_x_size, pixel_y_size);"
            "CREATE TABLE air(zoom_level, tile_column, tile_row, tile_data);"
            "INSERT INTO gpkg_contents VALUES('air','tiles');"
            "INSERT INTO gpkg_spatial_ref_sys VALUES(32629,'EPSG',32629,'');"
            "INSERT INTO gpkg_tile_matrix_set VALUES('air',32629,400000,6820000,405120,6825120);"
            "INSERT INTO gpkg_tile_matrix VALUES('air',0,1,1,256,256,20,20);"
            "INSERT INTO gpkg_tile_matrix VALUES('air',1,2,2,256,256,10,10);";
        QCOMPARE(sqlite3_exec(db, schema, nullptr, nullptr, nullptr), SQLITE_OK);
        const auto put = [&](int zoom, int col, int row, const std::string& bytes) {
            sqlite3_stmt* insert = nullptr;
            sqlite3_prepare_v2(db, "INSERT INTO air VALUES(?1,?2,?3,?4)", -1, &insert, nullptr);
            sqlite3_bind_int(insert, 1, zoom);
            sqlite3_bind_int(insert, 2, col);
            sqlite3_bind_int(insert, 3, row);
            sqlite3_bind_blob(insert, 4, bytes.data(), int(bytes.size()), SQLITE_TRANSIENT);
            sqlite3_step(insert);
            sqlite3_finalize(insert);
        };
        put(0, 0, 0, tileBytes(0));
        put(1, 0, 0, tileBytes(1));
        put(1, 1, 0, tileBytes(1));
        put(1, 0, 1, "no picture");
        sqlite3_close(db);
        const auto raster = opened(file);
        QVERIFY(raster != nullptr);
        QCOMPARE(raster->info().width, std::int64_t{512});
        QCOMPARE(raster->info().crs->code, 32629);
        QCOMPARE(raster->info().overviews, 1);
        const auto red = cellsOf(*raster, 0), green = cellsOf(*raster, 1),
                   blue = cellsOf(*raster, 2);
        QCOMPARE(red(10, 300), 200.0);
        QCOMPARE(green(10, 300), 1.0);
        QCOMPARE(blue(10, 300), 300.0 - 256);
        QCOMPARE(cellsOf(*raster, 3)(10, 300), 255.0);
        QVERIFY(std::isnan(red(400, 300)));  // never written
        QVERIFY(std::isnan(red(400, 100)));  // no picture
        QCOMPARE(raster->damage().size(), std::size_t{1});
        const Pyramid pyramid(raster, 1);
        QVERIFY(pyramid.hasOverviews());
        QCOMPARE((*pyramid.read(1, {100, 100, 1, 1}))(0, 0), 0.0F);
    }

    void cacheStaysWithinItsLimit() {
        BlockCache cache(1000);
        const std::uint64_t owner = cache.newOwner(), other = cache.newOwner();
        int made = 0;
        const auto block = [&](std::size_t size) {
            return [&made, size] {
                ++made;
                return std::make_shared<BlockCache::Bytes>(size);
            };
        };
        for (int i = 0; i < 10; ++i) (void)cache.get(owner, i, block(300));
        QCOMPARE(made, 10);
        QVERIFY(cache.held() <= 1000);
        (void)cache.get(owner, 9, block(300));  // recent: still there
        QCOMPARE(made, 10);
        (void)cache.get(owner, 0, block(300));  // oldest: made again
        QCOMPARE(made, 11);
        (void)cache.get(other, 0, block(300));
        cache.forget(owner);
        QCOMPARE(cache.held(), std::size_t{300});
        // Larger than the limit: usable all the same, but not kept.
        QCOMPARE(cache.get(other, 1, block(5000))->size(), std::size_t{5000});
        QVERIFY(cache.held() <= 1000);
        cache.setLimit(0);
        QCOMPARE(cache.held(), std::size_t{0});
    }
};

QTEST_APPLESS_MAIN(RasterFormatsTest)
#include "raster_formats_test.moc"
