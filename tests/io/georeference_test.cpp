#include <QTemporaryDir>
#include <QTest>

#include "core/base/random.h"
#include "core/crs/catalogue.h"
#include "core/crs/method_table.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "io/geotiff/geo_keys.h"
#include "io/ntv2/ntv2.h"
#include "io/registry.h"
#include "support/shift_grid_file.h"

using namespace ledge;
using namespace ledge::io;

namespace {
// A CRS of a method with parameters that suit it, on an ellipsoid of its own so that no code fits.
crs::Crs ownCrs(const crs::MethodInfo& info) {
    crs::Crs c;
    c.name = std::string("Own ") + info.name;
    c.code = 0;
    c.geographicCode = 0;
    c.geographicName = c.datumName = "Skerravoe 1911";
    c.ellipsoid = {"own", 6377341.5, 299.31};
    c.toWgs84.reset();
    c.method = info.method;
    c.unit = {"US survey foot", 0.304800609601219};
    auto& p = c.parameters;
    p = {info.method == crs::Method::PolarStereographicA ? 90.0 : 52.25,
         -10.5,
         0.9995,
         50,
         60,
         250000 * c.unit.size,
         -1200 * c.unit.size,
         33,
         32.5,
         78.5,
         44,
         -12,
         58,
         -8};
    c.isWestward = info.isWestward, c.isSouthward = info.isSouthward;
    return c;
}

}  // namespace

class GeoreferenceTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_folder;
    std::filesystem::path at(const std::string& name) const {
        return std::filesystem::path(m_folder.path().toStdString()) / name;
    }

private slots:
    void keepsEveryMethodInAGeoTiff_data() {
        QTest::addColumn<int>("method");
        for (const auto& info : crs::methods()) QTest::newRow(info.name) << int(info.method);
    }
    void keepsEveryMethodInAGeoTiff() {
        QFETCH(int, method);
        const crs::Crs own = ownCrs(*crs::methodInfo(static_cast<crs::Method>(method)));
        QVERIFY(crs::makeProjection(own.method, own.parameters, own.ellipsoid).has_value());
        RasterInfo info;
        info.crs = std::make_shared<crs::Crs>(own);
        info.toWorld = {10, 0, 1000, 0, -10, 2000};
        info.bands = {{CellType::Float32, kNaN, ""}};
        const auto path = at("m" + std::to_string(method) + ".tif");
        const auto done =
            writeRaster(MemoryRaster(info, Grid<float>(4, 5, 1.0F)), path, Compression::None, {});
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        QCOMPARE(std::filesystem::exists(at("m" + std::to_string(method) + ".prj")),
                 !hasGeoKeys(own));
        const auto back = std::get<RasterPtr>(*openSource(path));
        QVERIFY(back->info().crs != nullptr);
        // The same place comes out at the same coordinates: variants may stand in for each other.
        const auto there = back->info().crs;
        crs::Crs base = crs::geographicBase(own);
        const auto one = crs::Transformation::between(std::make_shared<crs::Crs>(base), info.crs);
        crs::Crs otherBase = crs::geographicBase(*there);
        const auto other =
            crs::Transformation::between(std::make_shared<crs::Crs>(otherBase), there);
        for (const Point p : {Point{-9, 53}, Point{-12, 51.5}}) {
            const Point a = one->forward(p), b = other->forward(p);
            QVERIFY2(distance(a, b) < 1e-4,
                     qPrintable(QString("%1 %2").arg(a.x - b.x).arg(a.y - b.y)));
        }
    }

    void keepsEveryMethodInAGeoPackage() {
        for (const auto& info : crs::methods()) {
            FeatureList table;
            table.info.name = "t";
            table.info.crs = std::make_shared<crs::Crs>(ownCrs(info));
            table.info.geometry = GeometryType::Point;
            table.features.push_back({1, Geometry::point({1, 2}), {}});
            const auto path = at("g" + std::to_string(int(info.method)) + ".gpkg");
            QVERIFY(writeTable(table, path, {}).has_value());
            const auto back = std::get<FeatureSourcePtr>(*openSource(path));
            QVERIFY2(back->layers()[0].crs &&
                         crs::hasSameShape(*back->layers()[0].crs, *table.info.crs),
                     info.name);
        }
    }

    void readsElevationTiles() {
        // A tile of 1/10 degree: 11 x 11 values on the edges, heights that tell row and column.
        std::string bytes;
        for (int r = 0; r < 11; ++r)
            for (int c = 0; c < 11; ++c)
                putNumber(bytes, static_cast<std::int16_t>(r == 3 && c == 4 ? -32768 : 100 * r + c),
                          std::endian::big);
        QVERIFY(writeText(at("N61W011.hgt"), bytes).has_value());
        const auto tile = std::get<RasterPtr>(*openSource(at("N61W011.hgt")));
        QCOMPARE(tile->info().width, std::int64_t{11});
        QCOMPARE(tile->info().crs->code, 4326);
        QCOMPARE(valueAt(*tile, 0, {-11, 62}), 0.0);     // north-west corner
        QCOMPARE(valueAt(*tile, 0, {-10, 61}), 1010.0);  // south-east
        QCOMPARE(valueAt(*tile, 0, {-10.5, 61.5}), 505.0);
        QVERIFY(std::isnan(valueAt(*tile, 0, {-10.6, 61.7})));
        QVERIFY(writeText(at("somewhere.hgt"), bytes).has_value());
        QVERIFY(!openSource(at("somewhere.hgt")));
        QVERIFY(writeText(at("S02E100.hgt"), bytes.substr(3)).has_value());
        const auto cut = openSource(at("S02E100.hgt"));
        QVERIFY(!cut && !cut.error().mend.empty());
    }

    void readsBinaryFloatGrids_data() {
        QTest::addColumn<bool>("isBig");
        QTest::newRow("little endian") << false;
        QTest::newRow("big endian") << true;
    }
    void readsBinaryFloatGrids() {
        QFETCH(bool, isBig);
        std::string bytes;
        for (int i = 0; i < 12; ++i)
            putNumber(bytes, i == 5 ? -9999.0F : static_cast<float>(i) + 0.5F,
                      isBig ? std::endian::big : std::endian::little);
        const std::string header = std::string("ncols 4\nnrows 3\nxllcorner 1000\nyllcorner 2000\n"
                                               "cellsize 10\nNODATA_value -9999\nbyteorder ") +
                                   (isBig ? "MSBFIRST" : "LSBFIRST") + "\n";
        QVERIFY(writeText(at("grid.flt"), bytes).has_value());
        QVERIFY(writeText(at("grid.hdr"), header).has_value());
        QVERIFY(writeText(at("grid.prj"), crs::toWkt(**crs::crsFromCode(32629))).has_value());
        const auto grid = std::get<RasterPtr>(*openSource(at("grid.flt")));
        QCOMPARE(grid->info().crs->code, 32629);
        QCOMPARE(valueAt(*grid, 0, {1005, 2025}), 0.5);
        QCOMPARE(valueAt(*grid, 0, {1035, 2005}), 11.5);
        QVERIFY(std::isnan(valueAt(*grid, 0, {1015, 2015})));
        // A header that asks for more than there is, and none at all.
        QVERIFY(writeText(at("grid.hdr"), "ncols 40000\nnrows 40000\ncellsize 10\n").has_value());
        const auto lying = openSource(at("grid.flt"));
        QVERIFY(!lying && lying.error().why.find("bytes") != std::string::npos);
        for (const char* text :
             {"", "ncols -4\nnrows 3\ncellsize 10", "ncols x\nnrows 3\ncellsize 10",
              "ncols 4\nnrows 3\ncellsize 0", "ncols 4\nnrows 3\ncellsize inf"}) {
            QVERIFY(writeText(at("grid.hdr"), text).has_value());
            QVERIFY(!openSource(at("grid.flt")));
        }
        std::filesystem::remove(at("grid.hdr"));
        QVERIFY(!openSource(at("grid.flt")));
    }

    void readsGridsOfShifts_data() {
        QTest::addColumn<bool>("isBig");
        QTest::newRow("little endian") << false;
        QTest::newRow("big endian") << true;
    }
    void readsGridsOfShifts() {
        QFETCH(bool, isBig);
        const auto path = at("shifts.gsb");
        QVERIFY(writeText(path, test::shiftGridFile(isBig ? std::endian::big : std::endian::little))
                    .has_value());
        const auto grid = readShiftGrid(path);
        QVERIFY2(grid.has_value(), grid ? "" : grid.error().text().c_str());
        // North-west corner: two steps north, two west; west is negative here.
        const Point moved = grid->forward(Point{-11, 62});
        QVERIFY(std::abs(moved.x - (-11 - 4.0 / 3600)) < 1e-9);
        QVERIFY(std::abs(moved.y - (62 + 2.0 / 3600)) < 1e-9);
        const Point middle = grid->forward(Point{-10.25, 61.25});
        QVERIFY(std::abs(middle.x + 10.25 + 1.0 / 3600) < 1e-9);
        QVERIFY(std::abs(middle.y - 61.25 - 0.5 / 3600) < 1e-9);
        const auto operation = gridOperation(path, 4230, 4326);
        QCOMPARE(operation->area.box, (Box{-11, 61, -10, 62}));
    }

    void refusesDamagedGrids() {
        const std::string whole = test::shiftGridFile(std::endian::little);
        const auto path = at("cut.gsb");
        const std::size_t end = whole.size() - 16;  // the last record only marks the end
        for (std::size_t cut = 0; cut < end; cut += 7) {
            QVERIFY(writeText(path, whole.substr(0, cut)).has_value());
            const auto grid = readShiftGrid(path);
            QVERIFY(!grid);
            QVERIFY(!grid.error().why.empty());
        }
        Random random(9);
        for (int i = 0; i < 500; ++i) {
            std::string text = whole;
            for (int k = 0; k < 4; ++k)
                text[std::size_t(random.below(int(text.size())))] = char(random.below(256));
            QVERIFY(writeText(path, text).has_value());
            (void)readShiftGrid(path).has_value();
        }
        // A header that announces more nodes than the file holds.
        std::string lying = whole;
        const auto count = lying.find("GS_COUNT") + 8;
        lying[count] = '\x7F', lying[count + 3] = '\x7F';
        QVERIFY(writeText(path, lying).has_value());
        const auto grid = readShiftGrid(path);
        QVERIFY(!grid);
        QVERIFY(grid.error().why.find("nodes") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(GeoreferenceTest)
#include "georeference_test.moc"
