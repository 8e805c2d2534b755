#include <QTemporaryDir>
#include <QTest>
#include <fstream>

#include "core/base/random.h"
#include "core/globe/reproject.h"
#include "io/files/atomic_file.h"
#include "io/geotiff/geo_keys.h"
#include "io/registry.h"

using namespace ledge;
namespace fs = std::filesystem;

namespace {

FeatureList sample(GeometryType type) {
    FeatureList t;
    t.info.name = "things";
    t.info.crs = *crs::crsFromCode(32629);
    t.info.fields = {{"name", FieldType::Text},
                     {"count", FieldType::Integer},
                     {"size", FieldType::Real},
                     {"open", FieldType::Boolean}};
    const Point o{410000, 6830000};
    const auto at = [&](double x, double y) { return o + Point{x, y}; };
    for (int i = 0; i < 4; ++i) {
        Geometry g;
        if (type == GeometryType::Point) g = Geometry::point(at(i * 10, i));
        if (type == GeometryType::Line) g = Geometry::line({at(0, i), at(5, i + 1.5), at(9, i)});
        if (type == GeometryType::Polygon)
            g = Geometry::polygon({{at(0, 0), at(90, 0), at(90, 90), at(0, 90)},
                                   {at(20, 20), at(20, 40), at(40, 40), at(40, 20)}});
        t.features.push_back({i,
                              g,
                              {std::string("Bræ ") + std::to_string(i), std::int64_t{i * 1000},
                               i * 0.25, i % 2 == 0}});
    }
    t.features[2].values = {Value(), Value(), Value(), Value()};
    return t;
}

RasterInfo gridInfo(CellType type, std::optional<double> nodata) {
    RasterInfo info;
    info.width = 300, info.height = 270;
    info.bands = {{type, nodata, ""}};
    info.crs = *crs::crsFromCode(32629);
    info.toWorld = {10, 0, 400000, 0, -10, 6830000};
    return info;
}

class Held final : public RasterSource {
public:
    explicit Held(RasterInfo info) : m_info(std::move(info)) {
        Random random(9);
        const auto [low, high] = cellRange(m_info.bands[0].type);
        for (std::size_t b = 0; b < m_info.bands.size(); ++b) {
            Grid<double> cells(std::size_t(m_info.height), std::size_t(m_info.width));
            for (double& v : cells.cells()) {
                v = isFloating(m_info.bands[0].type)
                        ? double(float(random.between(-900, 900)))
                        : std::floor(random.between(std::max(low, -3e9) + 2, std::min(high, 5e9)));
                if (random.below(40) == 0 && m_info.bands[0].nodata) v = kNaN;
            }
            cellsOf.push_back(std::move(cells));
        }
    }
    const RasterInfo& info() const override { return m_info; }
    Result<void> read(int b, CellWindow w, BlockView<double> out) const override {
        return copy(b, w, out);
    }
    Result<void> read(int b, CellWindow w, BlockView<float> out) const override {
        return copy(b, w, out);
    }
    std::vector<Grid<double>> cellsOf;

private:
    template <typename T>
    Result<void> copy(int b, CellWindow w, BlockView<T> out) const {
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c)
                out(r, c) = static_cast<T>(
                    cellsOf[std::size_t(b)](std::size_t(w.row) + r, std::size_t(w.col) + c));
        return {};
    }
    RasterInfo m_info;
};

void writeBytes(const fs::path& path, const std::string& bytes) {
    std::ofstream(path, std::ios::binary).write(bytes.data(), std::streamsize(bytes.size()));
}

// Opens and reads everything; whatever happens must be an error value with words.
void exercise(const fs::path& path) {
    const auto source = io::openSource(path);
    if (!source) {
        QVERIFY(!source.error().why.empty());
        return;
    }
    if (const auto* raster = std::get_if<RasterPtr>(&*source)) {
        const auto& info = (*raster)->info();
        QVERIFY(info.width > 0 && info.height > 0);
        if (info.width * info.height > 4'000'000) return;
        Grid<double> cells(std::size_t(info.height), std::size_t(info.width));
        const auto done = (*raster)->read(0, info.whole(), cells.view());
        if (!done) QVERIFY(!done.error().why.empty());
        return;
    }
    const auto& features = std::get<FeatureSourcePtr>(*source);
    for (std::size_t i = 0; i < features->layers().size(); ++i)
        (void)readAll(*features, i).has_value();
}

}  // namespace

class FormatsTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    fs::path path(const char* name) const { return fs::path(m_dir.path().toStdString()) / name; }

private slots:
    void keepsFeatures_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<int>("type");
        for (const char* file : {"a.gpkg", "a.geojson", "a.shp"})
            for (const auto type : {GeometryType::Point, GeometryType::Line, GeometryType::Polygon})
                QTest::newRow(qPrintable(QString("%1 %2").arg(file).arg(int(type))))
                    << QString(file) << int(type);
    }
    void keepsFeatures() {
        QFETCH(QString, file);
        QFETCH(int, type);
        const FeatureTable table = sample(static_cast<GeometryType>(type));
        const fs::path out = path(qPrintable(file));
        const auto written = io::writeTable(table, out, {});
        QVERIFY2(written.has_value(),
                 written ? "" : qPrintable(QString::fromStdString(written.error().text())));
        const auto source = io::openSource(out);
        QVERIFY2(source.has_value(),
                 source ? "" : qPrintable(QString::fromStdString(source.error().text())));
        auto back = readAll(*std::get<FeatureSourcePtr>(*source), 0);
        QVERIFY(back.has_value());
        const bool isGeoJson = file.endsWith("geojson");
        QCOMPARE((*back)->info.crs->code, isGeoJson ? 4326 : 32629);
        if (isGeoJson)
            back = TablePtr(
                std::make_shared<FeatureTable>(globe::reprojected(**back, table.info.crs)->table));
        QCOMPARE((*back)->size(), table.size());
        for (std::size_t i = 0; i < table.size(); ++i) {
            const Geometry a = table.geometry(i).toGeometry();
            const Geometry b = (*back)->geometry(i).toGeometry();
            QCOMPARE(b.points.size(), a.points.size());
            QCOMPARE(b.parts, a.parts);
            QCOMPARE(b.polygons, a.polygons);
            // Formats wind rings their own way; the set of positions stays.
            for (const Point p : a.points)
                QVERIFY(std::any_of(b.points.begin(), b.points.end(),
                                    [p](Point q) { return distance(p, q) < 1e-6; }));
            for (std::size_t k = 0; k < 4; ++k) {
                const Value v = table.value(i, k), w = (*back)->value(i, k);
                QCOMPARE(isMissing(w), isMissing(v));
                QCOMPARE(QString::fromStdString(exactText(w)),
                         QString::fromStdString(exactText(v)));
            }
        }
    }

    void replacesOneLayerOfAGeoPackageAndKeepsTheOthers() {
        FeatureList one = sample(GeometryType::Point), two = sample(GeometryType::Line);
        two.info.name = "lines with \"quotes\"";
        const fs::path out = path("several.gpkg");
        QVERIFY(io::writeTable(one, out, {}).has_value());
        QVERIFY(io::writeTable(two, out, {}).has_value());
        one.features.resize(1);
        QVERIFY(io::writeTable(one, out, {}).has_value());
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(out));
        QCOMPARE(source->layers().size(), std::size_t{2});
        QCOMPARE(source->layers()[0].name, two.info.name);
        QCOMPARE(source->layers()[0].count, std::int64_t{4});
        QCOMPARE(source->layers()[1].count, std::int64_t{1});
    }

    void keepsCells_data() {
        QTest::addColumn<int>("type");
        QTest::addColumn<int>("compression");
        QTest::addColumn<int>("bands");
        for (int type = 0; type < 8; ++type)
            for (int compression = 0; compression < 4; ++compression)
                QTest::addRow("%s %d", cellTypeName(static_cast<CellType>(type)).c_str(),
                              compression)
                    << type << compression << 1 + type % 3;
    }
    void keepsCells() {
        QFETCH(int, type);
        QFETCH(int, compression);
        QFETCH(int, bands);
        const auto cellType = static_cast<CellType>(type);
        RasterInfo info = gridInfo(cellType, cellRange(cellType).first < 0 && !isFloating(cellType)
                                                 ? cellRange(cellType).first
                                             : isFloating(cellType) ? -9999.0
                                                                    : 0.0);
        info.bands.resize(std::size_t(bands), info.bands[0]);
        const Held held(info);
        const fs::path out = path("cells.tif");
        const auto written =
            io::writeRaster(held, out, static_cast<io::Compression>(compression), {});
        QVERIFY2(written.has_value(),
                 written ? "" : qPrintable(QString::fromStdString(written.error().text())));
        const auto source = std::get<RasterPtr>(*io::openSource(out));
        QCOMPARE(source->info().toWorld, info.toWorld);
        QCOMPARE(source->info().crs->code, 32629);
        QCOMPARE(source->info().bands.size(), std::size_t(bands));
        QCOMPARE(int(source->info().bands[0].type), type);
        const CellWindow window{17, 31, 250, 200};
        for (int b = 0; b < bands; ++b) {
            Grid<double> cells(200, 250);
            QVERIFY(source->read(b, window, cells.view()).has_value());
            for (std::size_t r = 0; r < 200; ++r)
                for (std::size_t c = 0; c < 250; ++c) {
                    const double v = held.cellsOf[std::size_t(b)](r + 31, c + 17);
                    QVERIFY(std::isnan(v) ? std::isnan(cells(r, c)) : v == cells(r, c));
                }
        }
    }

    void keepsAsciiGrids() {
        RasterInfo info = gridInfo(CellType::Float32, -9999.0);
        const Held held(info);
        const fs::path out = path("grid.asc");
        QVERIFY(io::writeRaster(held, out, io::Compression::None, {}).has_value());
        const auto source = std::get<RasterPtr>(*io::openSource(out));
        QCOMPARE(source->info().crs->code, 32629);
        QCOMPARE(source->info().extent(), info.extent());
        Grid<double> cells(270, 300);
        QVERIFY(source->read(0, source->info().whole(), cells.view()).has_value());
        for (std::size_t i = 0; i < cells.cells().size(); ++i) {
            const double v = held.cellsOf[0].cells()[i];
            QVERIFY(std::isnan(v) ? std::isnan(cells.cells()[i])
                                  : float(v) == float(cells.cells()[i]));
        }
    }

    void keepsUserDefinedGeoKeys() {
        for (const int code : {3034, 3994, 3395, 32733}) {
            crs::Crs custom = **crs::crsFromCode(code);
            custom.code = 0;
            custom.parameters.falseEasting += 1234.5;
            custom.unit = {"US survey foot", 1200.0 / 3937.0};
            const auto back = io::readGeoKeys(io::writeGeoKeys(custom));
            QVERIFY(back.crs != nullptr);
            QCOMPARE(back.crs->method, custom.method);
            QVERIFY(std::abs(back.crs->parameters.falseEasting - custom.parameters.falseEasting) <
                    1e-6);
            QCOMPARE(back.crs->parameters.standardParallel1, custom.parameters.standardParallel1);
            QCOMPARE(back.crs->ellipsoid.semiMajor, custom.ellipsoid.semiMajor);
        }
        QVERIFY(io::readGeoKeys({}).crs == nullptr);
        QVERIFY(io::readGeoKeys({{1, 1, 0, 999, 3072, 0}, {}, ""}).crs == nullptr);
    }

    void tellsMissingSidecars() {
        QVERIFY(io::writeTable(sample(GeometryType::Polygon), path("side.shp"), {}).has_value());
        fs::remove(path("side.dbf"));
        fs::remove(path("side.prj"));
        fs::remove(path("side.shx"));
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(path("side.shp")));
        QCOMPARE(source->layers()[0].count, std::int64_t{4});
        QVERIFY(source->layers()[0].crs == nullptr);
        QCOMPARE(source->layers()[0].notes.size(), std::size_t{2});
    }

    void answersQueries_data() {
        QTest::addColumn<QString>("file");
        QTest::newRow("GeoPackage") << "asked.gpkg";
        QTest::newRow("held in memory") << "asked.geojson";
    }
    void answersQueries() {
        QFETCH(QString, file);
        QVERIFY(
            io::writeTable(sample(GeometryType::Point), path(qPrintable(file)), {}).has_value());
        const auto opened = io::openSource(path(qPrintable(file)));
        const auto& source = *std::get<FeatureSourcePtr>(*opened);
        Query query;
        query.columns = {"open", "name"};
        const auto two = readAll(source, 0, {}, query);
        QVERIFY(two.has_value());
        // In the layer's own order, whatever the order asked for.
        QCOMPARE((*two)->info.fields.size(), std::size_t{2});
        QCOMPARE((*two)->info.fields[0].name, std::string("name"));
        QCOMPARE((*two)->value(1, 0), Value("Bræ 1"));
        QCOMPARE((*two)->value(1, 1), Value(false));
        query.limit = 2;
        QCOMPARE((*readAll(source, 0, {}, query))->size(), std::size_t{2});
        query = {};
        query.filter = [](const Feature& f) { return numberOf(f.values[1]) >= 1000; };
        const auto kept = readAll(source, 0, {}, query);
        QCOMPARE((*kept)->size(), std::size_t{2});
        // Keys are those of the source, not places in the answer.
        const auto all = readAll(source, 0);
        QCOMPARE((*kept)->key(0), (*all)->key(1));
        QCOMPARE((*kept)->key(1), (*all)->key(3));
        query = {};
        query.extent = (*all)->box(2).grown(1e-6);
        QCOMPARE((*readAll(source, 0, {}, query))->size(), std::size_t{1});
        query.columns = {"height"};
        const auto wrong = readAll(source, 0, {}, query);
        QCOMPARE(wrong.error().code, ErrorCode::NotFound);
        QVERIFY(wrong.error().mend.find("count") != std::string::npos);
        std::stop_source stop;
        stop.request_stop();
        query = {};
        query.limit = 1000;
        QCOMPARE(readAll(source, 0, {stop.get_token(), {}}, query).error().code,
                 ErrorCode::Cancelled);
    }

    void dropsCoordinatesThatAreNoNumbers() {
        FeatureList t = sample(GeometryType::Point);
        t.features[3].geometry.points[0].y = std::numeric_limits<double>::infinity();
        const FeatureTable table(t);
        QVERIFY(table.geometry(3).isEmpty() && !table.info.notes.empty());
        // In a file: every place with a certain easting is made none at all, byte by byte.
        const double marked = 410010.25;
        t.features[1].geometry.points[0].x = marked;
        QVERIFY(io::writeTable(t, path("nan.gpkg"), {}).has_value());
        auto bytes = *io::readText(path("nan.gpkg"));
        const std::string from(reinterpret_cast<const char*>(&marked), 8);
        const std::string to(reinterpret_cast<const char*>(&kNaN), 8);
        int changed = 0;
        for (auto at = bytes.find(from); at != std::string::npos; at = bytes.find(from), ++changed)
            bytes.replace(at, 8, to);
        QVERIFY(changed > 0);
        QVERIFY(io::writeText(path("nan.gpkg"), bytes).has_value());
        const auto back =
            readAll(*std::get<FeatureSourcePtr>(*io::openSource(path("nan.gpkg"))), 0);
        QCOMPARE((*back)->size(), std::size_t{4});
        QVERIFY((*back)->geometry(1).isEmpty());
        QVERIFY((*back)->geometry(3).isEmpty());
        QVERIFY((*back)->info.extent.width() < 100);
        QVERIFY(!(*back)->info.notes.empty());
    }

    void explainsWhatItCannotOpen_data() {
        QTest::addColumn<QByteArray>("bytes");
        QTest::addColumn<QString>("name");
        QTest::newRow("empty") << QByteArray() << "x.tif";
        QTest::newRow("text as TIFF") << QByteArray("hello") << "x.tif";
        QTest::newRow("unknown") << QByteArray("hello") << "x.xyz";
        QTest::newRow("no GeoJSON") << QByteArray("{\"a\":1}") << "x.geojson";
        QTest::newRow("cut JSON") << QByteArray("{\"type\":\"FeatureCollection\",\"features\":[")
                                  << "x.geojson";
        QTest::newRow("TIFF magic only") << QByteArray("II*\0\0\0\0\0", 8) << "x.tif";
        QTest::newRow("SQLite magic only") << QByteArray("SQLite format 3\0junk", 20) << "x.gpkg";
        QTest::newRow("shape magic only") << QByteArray("\0\0\x27\x0a", 4) << "x.shp";
        QTest::newRow("grid of no size")
            << QByteArray("ncols 0\nnrows 5\nxllcorner 0\nyllcorner 0\ncellsize 1\n") << "x.asc";
        QTest::newRow("grid that lies")
            << QByteArray("ncols 100000\nnrows 100000\nxllcorner 0\nyllcorner 0\ncellsize 1\n1 2 3")
            << "x.asc";
        QTest::newRow("grid with words") << QByteArray("ncols 2\nnrows many\n") << "x.asc";
        QTest::newRow("grid with endless cells")
            << QByteArray("ncols 2\nnrows 2\nxllcorner inf\nyllcorner 0\ncellsize 1\n1 2 3 4")
            << "x.asc";
    }
    void explainsWhatItCannotOpen() {
        QFETCH(QByteArray, bytes);
        QFETCH(QString, name);
        const fs::path file = path(qPrintable(name));
        writeBytes(file, bytes.toStdString());
        const auto source = io::openSource(file);
        QVERIFY(!source);
        QVERIFY(source.error().what.find(name.toStdString()) != std::string::npos);
        QVERIFY(!source.error().why.empty());
        QVERIFY(!source.error().mend.empty());
        QCOMPARE(io::openSource(path("nowhere.tif")).error().code, ErrorCode::NotFound);
        QVERIFY(!io::openSource(m_dir.path().toStdString()));
    }

    void refusesHeadersLargerThanTheFile() {
        // A whole little TIFF whose width and height are then made 100 000 each.
        const Held held(gridInfo(CellType::UInt8, {}));
        QVERIFY(io::writeRaster(held, path("big.tif"), io::Compression::Deflate, {}).has_value());
        std::string bytes = *io::readText(path("big.tif"));
        int changed = 0;
        for (std::size_t i = 0; i + 12 <= bytes.size(); ++i) {
            const auto tag =
                std::uint16_t(std::uint8_t(bytes[i]) | std::uint8_t(bytes[i + 1]) << 8);
            const auto count = std::uint32_t(std::uint8_t(bytes[i + 4]));
            if ((tag == 256 || tag == 257) && count == 1 &&
                (bytes[i + 2] == 3 || bytes[i + 2] == 4)) {
                const std::uint32_t size = 100000;
                bytes[i + 2] = 4;
                std::memcpy(bytes.data() + i + 8, &size, 4);
                if (++changed == 2) break;
            }
        }
        QCOMPARE(changed, 2);
        writeBytes(path("big.tif"), bytes);
        const auto source = io::openSource(path("big.tif"));
        QVERIFY(!source);
        QCOMPARE(source.error().code, ErrorCode::BadFormat);
    }

    void survivesFilesCutShortAnywhere_data() {
        QTest::addColumn<QString>("name");
        for (const char* name : {"cut.tif", "cut.asc", "cut.gpkg", "cut.shp", "cut.geojson"})
            QTest::newRow(name) << name;
    }
    void survivesFilesCutShortAnywhere() {
        QFETCH(QString, name);
        const fs::path whole = path(qPrintable("whole_" + name)), cut = path(qPrintable(name));
        if (name.endsWith("tif") || name.endsWith("asc")) {
            RasterInfo info = gridInfo(CellType::Int16, -1.0);
            info.width = 40, info.height = 30;
            QVERIFY(io::writeRaster(Held(info), whole, io::Compression::Lzw, {}).has_value());
        } else {
            QVERIFY(io::writeTable(sample(GeometryType::Polygon), whole, {}).has_value());
        }
        const std::string bytes = *io::readText(whole);
        const std::size_t step = std::max<std::size_t>(1, bytes.size() / 150);
        for (std::size_t length = 0; length < bytes.size(); length += step) {
            writeBytes(cut, bytes.substr(0, length));
            exercise(cut);
        }
        Random random(17);
        for (int i = 0; i < 150; ++i) {
            std::string noisy = bytes;
            for (int k = 0; k < 6; ++k)
                noisy[std::size_t(random.below(int(noisy.size())))] = char(random.below(256));
            writeBytes(cut, noisy);
            exercise(cut);
        }
    }

    void stopsReadingAndWritingFeatures_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<double>("share");
        for (const char* file : {"long.gpkg", "long.geojson", "long.shp"})
            for (const double share : {0.0, 0.3, 0.8})
                QTest::newRow(qPrintable(QString("%1 at %2").arg(file).arg(share)))
                    << QString(file) << share;
    }
    void stopsReadingAndWritingFeatures() {
        QFETCH(QString, file);
        QFETCH(double, share);
        FeatureList list = sample(GeometryType::Line);
        const auto few = list.features;
        for (std::int64_t i = 4; i < 12000; ++i) {
            list.features.push_back(few[static_cast<std::size_t>(i % 2)]);
            list.features.back().id = i;
        }
        const FeatureTable table = list;
        // Stops itself when it has told that it is so far.
        double told = -1;
        const auto until = [&](std::stop_source& stop) {
            told = -1;
            return Progress{stop.get_token(), [&told, &stop, share](double done) {
                                told = std::max(told, done);
                                if (done >= share) stop.request_stop();
                            }};
        };
        const fs::path out = path(qPrintable(file));
        fs::remove(out);
        std::stop_source writing;
        const auto written = io::writeTable(table, out, until(writing));
        QVERIFY2(!written.has_value(), qPrintable(QString::number(told)));
        QCOMPARE(written.error().code, ErrorCode::Cancelled);
        QVERIFY(!fs::exists(out));
        QVERIFY(io::writeTable(table, out, {}).has_value());
        std::stop_source reading;
        const Progress progress = until(reading);
        const auto opened = io::openSource(out, progress);
        const auto read = opened ? readAll(*std::get<FeatureSourcePtr>(*opened), 0, progress)
                                 : Result<TablePtr>(opened.error());
        QVERIFY2(!read.has_value(), qPrintable(QString::number(told)));
        QCOMPARE(read.error().code, ErrorCode::Cancelled);
        QVERIFY(told < 1);
    }

    void leavesNothingBehindWhenStopped() {
        std::stop_source stop;
        stop.request_stop();
        const auto before = std::distance(fs::directory_iterator(m_dir.path().toStdString()), {});
        QVERIFY(!io::writeRaster(Held(gridInfo(CellType::UInt8, {})), path("stopped.tif"),
                                 io::Compression::None, {stop.get_token(), {}}));
        QVERIFY(!io::writeTable(sample(GeometryType::Point), path("stopped.gpkg"),
                                {stop.get_token(), {}}));
        QVERIFY(
            !io::writeTable(sample(GeometryType::Point), fs::path("/no/such/folder/a.gpkg"), {}));
        QCOMPARE(std::distance(fs::directory_iterator(m_dir.path().toStdString()), {}), before);
    }

    void keepsTheOldFileWhenWritingFails() {
        const fs::path file = path("kept.txt");
        QVERIFY(io::writeText(file, "old").has_value());
        {
            io::AtomicFile unfinished(file);
            writeBytes(unfinished.temporary(), "half");
        }
        QCOMPARE(*io::readText(file), std::string("old"));
        FeatureList mixed = sample(GeometryType::Point);
        mixed.features[1].geometry = Geometry::line({{0, 0}, {1, 1}});
        QVERIFY(!io::writeTable(mixed, path("mixed.shp"), {}));
        QVERIFY(!fs::exists(path("mixed.shp")));
    }
};

QTEST_APPLESS_MAIN(FormatsTest)
#include "formats_test.moc"
