#include "core/raster/ground.h"

#include <QTest>

#include "core/base/random.h"
#include "core/crs/latitudes.h"
#include "core/crs/transformation.h"
#include "core/raster/counts.h"

using namespace ledge;

namespace {
crs::CrsPtr named(const char* name) { return *crs::parseCrs(name); }

// A raster of one value around a place, north up.
RasterInfo gridAbout(const crs::CrsPtr& crs, Point lonLat, double cell, std::int64_t side) {
    RasterInfo info;
    info.crs = crs;
    info.width = info.height = side;
    const Point at = crs->isGeographic()
                         ? lonLat
                         : crs::Transformation::between(named("EPSG:4326"), crs)->forward(lonLat);
    const double half = cell * static_cast<double>(side) / 2;
    info.toWorld = {cell, 0, at.x - half, 0, -cell, at.y + half};
    info.bands = {{CellType::Float32, {}, ""}};
    return info;
}
}  // namespace

/// Cells over the ground, against closed forms and against the projection's own distortion.
class GroundTest : public QObject {
    Q_OBJECT

private slots:
    void takesMercatorsScale() {
        // Web Mercator's unit is cos(lat) N / a along the parallel and cos(lat) M / a up the
        // meridian.
        const auto crs = named("EPSG:3857");
        const Ground ground(gridAbout(crs, {10, 60}, 100, 200));
        const CellSize cell = ground.at(100, 100);
        const double s = std::sin(60 * crs::kRadiansPerDegree), c = 0.5;
        const double e2 = crs->ellipsoid.eccentricitySquared();
        const double n = 1 / std::sqrt(1 - e2 * s * s), m = (1 - e2) * n * n * n;
        QVERIFY(std::abs(cell.xMetres / (100 * c * n) - 1) < 1e-6);
        QVERIFY(std::abs(cell.yMetres / (100 * c * m) - 1) < 1e-6);
        QVERIFY(std::abs(cell.colNorth) < 1e-6 && std::abs(cell.rowEast) < 1e-6);
    }

    void agreesWithTheDistortionOfEveryKind_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::newRow("Mercator at 60") << "EPSG:3857" << 25.0 << 60.0;
        QTest::newRow("UTM at its edge") << "EPSG:32629" << -5.9 << 61.0;
        QTest::newRow("polar stereographic") << "EPSG:3031" << 70.0 << -72.0;
        QTest::newRow("on the pole") << "EPSG:3031" << 0.0 << -90.0;
        QTest::newRow("equal-area far off") << "EPSG:3035" << 40.0 << 40.0;
        QTest::newRow("sheared sinusoidal") << "world:sinusoidal" << 70.0 << 45.0;
        QTest::newRow("Robinson") << "world:robinson" << 120.0 << -50.0;
        QTest::newRow("US feet") << "EPSG:2263" << -73.9 << 40.7;
        QTest::newRow("southings") << "EPSG:2053" << 29.5 << -28.0;
    }
    void agreesWithTheDistortionOfEveryKind() {
        QFETCH(QString, crs);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto c = named(qPrintable(crs));
        Random random(11);
        for (const double cell : {10.0, 900.0}) {
            const RasterInfo info = gridAbout(c, {lon, lat}, cell, 700);
            const Ground ground(info);
            const auto way = crs::Transformation::between(
                c, std::make_shared<crs::Crs>(crs::geographicBase(*c)));
            for (int i = 0; i < 60; ++i) {
                const double col = random.between(0, 700), row = random.between(0, 700);
                const Point at = way->forward(info.toWorld({col, row}));
                if (!at.isFinite() || std::abs(at.y) > 89.9) continue;
                const crs::Distortion d = crs::distortionAt(*c, at);
                if (!std::isfinite(d.areal)) continue;
                const CellSize size = ground.at(col, row);
                const double square = cell * c->unit.size * cell * c->unit.size;
                const QString where = QString("%1 %2: %3").arg(col).arg(row).arg(cell);
                QVERIFY2(std::abs(std::abs(size.area()) * d.areal / square - 1) < 1e-4,
                         qPrintable(where));
                // Lengths of both axes lie within what the projection does there.
                const double along = std::hypot(size.xMetres, size.colNorth) / cell / c->unit.size;
                QVERIFY2(along * d.largest > 1 - 1e-4 && along * d.smallest < 1 + 1e-4,
                         qPrintable(where));
                float turn = 0;
                ground.convergence(static_cast<std::int64_t>(row), static_cast<std::int64_t>(col),
                                   std::span(&turn, 1));
                const Point middle =
                    way->forward(info.toWorld({std::floor(col) + 0.5, std::floor(row) + 0.5}));
                if (!middle.isFinite() || std::abs(middle.y) > 89.5) continue;
                const double wanted = crs::distortionAt(*c, middle).convergence;
                // Of conformal grids the meridian's image tells it; sheared ones have two answers.
                if (std::abs(d.largest / d.smallest - 1) < 1e-5)
                    QVERIFY2(std::abs(std::remainder(double(turn) - wanted, 360.0)) < 0.012,
                             qPrintable(where + QString(" %1 %2").arg(turn).arg(wanted)));
            }
        }
    }

    void hasPartsThatAreAlike_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("cell");
        for (const char* name :
             {"EPSG:32629", "EPSG:3857", "EPSG:4326", "EPSG:3413", "world:robinson"})
            for (const double cell : {10.0, 20000.0})
                QTest::addRow("%s %g", name, cell)
                    << name << (QString(name) == "EPSG:4326" ? cell / 1e5 : cell);
    }
    void hasPartsThatAreAlike() {
        QFETCH(QString, crs);
        QFETCH(double, cell);
        const RasterInfo info = gridAbout(named(qPrintable(crs)), {-8, 61}, cell, 300);
        const Ground ground(info);
        std::int64_t next = 3;
        const auto done =
            ground.forParts({3, 5, 290, 7}, [&](CellWindow part, std::span<const CellSize> cells) {
                const bool goesOn = part.col == next && part.row == 5 && part.rows == 7 &&
                                    cells.size() == 7 && part.cols > 0;
                if (!goesOn) return Result<void>(Error{ErrorCode::BadFormat, "part", "gap", ""});
                next += part.cols;
                for (const std::int64_t col : {part.col, part.col + part.cols - 1}) {
                    const CellSize there = ground.at(static_cast<double>(col) + 0.5, 8.5);
                    const double off = std::abs(there.area() / cells[3].area() - 1);
                    if (off > 4e-4)
                        return Result<void>(Error{ErrorCode::BadFormat, "part", "not alike", ""});
                }
                return Result<void>();
            });
        QVERIFY2(done.has_value(), done ? "" : done.error().text().c_str());
        QCOMPARE(next, std::int64_t{293});
        const auto stopped =
            ground.forParts({0, 0, 4, 4}, [](CellWindow, std::span<const CellSize>) {
                return Result<void>(Error{ErrorCode::Cancelled, "", "", ""});
            });
        QCOMPARE(stopped.error().code, ErrorCode::Cancelled);
    }

    void addsUpToTheWholeEarth() {
        RasterInfo info;
        info.crs = named("EPSG:4326");
        info.width = 360, info.height = 180;
        info.toWorld = {1, 0, -180, 0, -1, 90};
        const Ground ground(info);
        std::vector<double> row(360);
        double sum = 0;
        for (int r = 0; r < 180; ++r) {
            ground.areas(r, 0, row);
            for (const double area : row) sum += area;
        }
        // The surface of the ellipsoid, from the table of constants.
        QVERIFY2(std::abs(sum / 510065621724088.51 - 1) < 1e-12,
                 qPrintable(QString::number(sum, 'g', 17)));
    }

    void countsClassesByTheGroundOfEachCell_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("cell");
        QTest::newRow("degrees") << "EPSG:4326" << 0.25;
        QTest::newRow("web Mercator") << "EPSG:3857" << 20000.0;
        QTest::newRow("UTM") << "EPSG:32629" << 1000.0;
        QTest::newRow("polar") << "EPSG:3413" << 15000.0;
    }
    void countsClassesByTheGroundOfEachCell() {
        QFETCH(QString, crs);
        QFETCH(double, cell);
        RasterInfo info = gridAbout(named(qPrintable(crs)), {-9, 62}, cell, 60);
        Grid<float> cells(60, 60);
        for (std::size_t r = 0; r < 60; ++r)
            for (std::size_t c = 0; c < 60; ++c)
                cells(r, c) = r < 20 ? 7.0F : r < 50 ? 300.0F : NAN;
        const MemoryRaster raster(info, cells);
        const auto sums = valueSums(raster, 0, 10);
        QVERIFY(sums.has_value());
        QCOMPARE(sums->size(), std::size_t{2});
        QCOMPARE(sums->at(7).cells, std::int64_t{1200});
        QCOMPARE(sums->at(300).cells, std::int64_t{1800});
        // Each cell cut into 16 times 16, each piece by the projection's own areal scale.
        const auto base = std::make_shared<crs::Crs>(crs::geographicBase(*info.crs));
        const auto way = crs::Transformation::between(info.crs, base);
        double wanted = 0;
        constexpr int kPieces = 16;
        for (int r = 0; r < 20 * kPieces; ++r)
            for (int c = 0; c < 60 * kPieces; c += 7) {  // some columns stand for all
                const Point at = info.toWorld({(c + 0.5) / kPieces, (r + 0.5) / kPieces});
                const double units = cell * cell / kPieces / kPieces;
                if (info.crs->isGeographic()) {
                    const Point degree = crs::metresPerDegree(info.crs->ellipsoid, at.y);
                    wanted += units * degree.x * degree.y;
                } else {
                    wanted += units / crs::distortionAt(*info.crs, way->forward(at)).areal;
                }
            }
        wanted *= 60.0 * kPieces / ((60 * kPieces + 6) / 7);
        QVERIFY2(std::abs(sums->at(7).squareMetres / wanted - 1) < 2e-5,
                 qPrintable(QString::number(sums->at(7).squareMetres / wanted - 1)));
        QCOMPARE(valueSums(raster, 0, 1).error().code, ErrorCode::LimitExceeded);
    }

    void takesCellsAsMetresWithoutACrs() {
        RasterInfo info;
        info.width = info.height = 10;
        info.toWorld = {2, 0, 0, 0, -3, 0};
        const CellSize cell = Ground(info).at(5, 5);
        QCOMPARE(cell.xMetres, 2.0);
        QCOMPARE(cell.yMetres, 3.0);
    }
};

QTEST_APPLESS_MAIN(GroundTest)
#include "ground_test.moc"
