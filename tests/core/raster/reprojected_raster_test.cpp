#include "core/raster/reprojected_raster.h"

#include <QTest>

#include "core/base/parallel.h"
#include "core/base/random.h"

using namespace ledge;

namespace {
// A plane in the coordinates of the source, which bilinear and cubic sampling hold exactly.
double plane(Point p) { return 0.01 * (p.x - 400000) - 0.02 * (p.y - 6800000) + 300; }

RasterPtr planeRaster(std::size_t rows, std::size_t cols, double cell, int code = 32629,
                      Point upperLeft = {400000, 6850000}) {
    RasterInfo info;
    info.crs = *crs::crsFromCode(code);
    info.toWorld = {cell, 0, upperLeft.x, 0, -cell, upperLeft.y};
    info.bands = {{CellType::Float32, kNaN, "metre"}};
    Grid<float> cells(rows, cols);
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c)
            cells(r, c) =
                static_cast<float>(plane(info.toWorld({double(c) + 0.5, double(r) + 0.5})));
    return std::make_shared<MemoryRaster>(info, std::move(cells));
}

Grid<float> all(const RasterSource& raster) {
    Grid<float> out(std::size_t(raster.info().height), std::size_t(raster.info().width));
    const auto done = raster.read(0, raster.info().whole(), out.view());
    if (!done) qFatal("%s", done.error().text().c_str());
    return out;
}
}  // namespace

class ReprojectedRasterTest : public QObject {
    Q_OBJECT

private slots:
    void keepsAPlaneInAnotherCrs_data() {
        QTest::addColumn<int>("resampling");
        QTest::addColumn<double>("bound");
        // Positions are within 0.05 cell; a cell of 50 m on this plane is about a metre of height.
        QTest::newRow("bilinear") << int(Resampling::Bilinear) << 0.06;
        QTest::newRow("cubic") << int(Resampling::Cubic) << 0.06;
        QTest::newRow("nearest") << int(Resampling::Nearest) << 0.8;
    }
    void keepsAPlaneInAnotherCrs() {
        QFETCH(int, resampling);
        QFETCH(double, bound);
        const RasterPtr source = planeRaster(700, 900, 50);
        const auto to = *crs::crsFromCode(3034);
        const auto way = crs::Transformation::between(source->info().crs, to);
        const auto grid = suggestedGrid(source->info(), *way);
        const ReprojectedRaster moved(source, *way, to, *grid, Resampling(resampling));
        const auto cells = all(moved);
        std::size_t known = 0;
        for (std::size_t r = 0; r < cells.rows(); ++r)
            for (std::size_t c = 0; c < cells.cols(); ++c) {
                if (std::isnan(cells(r, c))) continue;
                const Point there =
                    way->inverse(moved.info().toWorld({double(c) + 0.5, double(r) + 0.5}));
                // At the source's edge neighbours are missing: leave that out.
                const Point cell = (*source->info().toWorld.inverse())(there);
                if (cell.x < 2 || cell.y < 2 || cell.x > 898 || cell.y > 698) continue;
                ++known;
                QVERIFY2(std::abs(double(cells(r, c)) - plane(there)) < bound,
                         qPrintable(QString::number(double(cells(r, c)) - plane(there))));
            }
        QVERIFY(known > 500000);
    }

    void givesTheSameCellsForAnyWindowAndThreads() {
        const RasterPtr source = planeRaster(300, 300, 50);
        const auto to = *crs::crsFromCode(4326);
        const auto way = crs::Transformation::between(source->info().crs, to);
        const auto grid = suggestedGrid(source->info(), *way);
        const ReprojectedRaster moved(source, *way, to, *grid, Resampling::Cubic);
        const auto whole = all(moved);
        setThreadCount(1);
        Random random(3);
        for (int i = 0; i < 30; ++i) {
            const auto w = moved.info().width, h = moved.info().height;
            CellWindow window;
            window.col = random.below(int(w) - 1), window.row = random.below(int(h) - 1);
            window.cols = 1 + random.below(int(w - window.col));
            window.rows = 1 + random.below(int(h - window.row));
            Grid<float> part(std::size_t(window.rows), std::size_t(window.cols));
            QVERIFY(moved.read(0, window, part.view()).has_value());
            for (std::size_t r = 0; r < part.rows(); ++r)
                for (std::size_t c = 0; c < part.cols(); ++c) {
                    const float a = part(r, c);
                    const float b = whole(std::size_t(window.row) + r, std::size_t(window.col) + c);
                    QVERIFY(a == b || (std::isnan(a) && std::isnan(b)));
                }
        }
        setThreadCount(0);
    }

    void neverBleedsNodata() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {50, 0, 400000, 0, -50, 6850000};
        info.bands = {{CellType::Float32, kNaN, ""}};
        Grid<float> cells(100, 100, 7.0F);
        for (std::size_t r = 40; r < 60; ++r)
            for (std::size_t c = 40; c < 60; ++c)
                cells(r, c) = std::numeric_limits<float>::quiet_NaN();
        const RasterPtr source = std::make_shared<MemoryRaster>(info, cells);
        const auto to = *crs::crsFromCode(3034);
        const auto way = crs::Transformation::between(info.crs, to);
        for (const Resampling how :
             {Resampling::Nearest, Resampling::Bilinear, Resampling::Cubic, Resampling::Average}) {
            const auto grid = suggestedGrid(info, *way);
            const auto moved = all(ReprojectedRaster(source, *way, to, *grid, how));
            for (const float v : moved.cells()) QVERIFY(std::isnan(v) || std::abs(v - 7) < 1e-5F);
        }
    }

    void averagesWhatFallsIntoACell() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {10, 0, 400000, 0, -10, 6850000};
        info.bands = {{CellType::Float32, kNaN, ""}};
        Grid<float> cells(80, 80);
        for (std::size_t r = 0; r < 80; ++r)
            for (std::size_t c = 0; c < 80; ++c) cells(r, c) = (r + c) % 2 ? 0.0F : 10.0F;
        const RasterPtr source = std::make_shared<MemoryRaster>(info, cells);
        const TargetGrid grid{10, 10, {80, 0, 400000, 0, -80, 6850000}};
        const auto moved = all(
            ReprojectedRaster(source, crs::Transformation(), info.crs, grid, Resampling::Average));
        for (const float v : moved.cells()) QVERIFY(std::abs(v - 5) < 1e-5F);
    }

    void joinsTheEarthAtTheAntimeridian() {
        // One degree cells all around; the value is the cosine of longitude, without a seam.
        RasterInfo info;
        info.crs = *crs::crsFromCode(4326);
        info.toWorld = {1, 0, -180, 0, -1, 90};
        info.bands = {{CellType::Float32, kNaN, ""}};
        Grid<float> cells(180, 360);
        for (std::size_t r = 0; r < 180; ++r)
            for (std::size_t c = 0; c < 360; ++c)
                cells(r, c) =
                    static_cast<float>(std::cos((double(c) - 179.5) * crs::kRadiansPerDegree));
        const RasterPtr source = std::make_shared<MemoryRaster>(info, cells);
        const auto check = [&](int code, const TargetGrid& grid) {
            const auto to = *crs::crsFromCode(code);
            const auto way = crs::Transformation::between(info.crs, to);
            const ReprojectedRaster moved(source, *way, to, grid, Resampling::Bilinear);
            const auto out = all(moved);
            for (std::size_t r = 0; r < out.rows(); ++r)
                for (std::size_t c = 0; c < out.cols(); ++c) {
                    const Point at = way->inverse(grid.toWorld({double(c) + 0.5, double(r) + 0.5}));
                    if (!at.isFinite() || std::abs(at.y) > 88) continue;
                    QVERIFY2(!std::isnan(out(r, c)),
                             qPrintable(QString("%1 %2").arg(at.x).arg(at.y)));
                    QVERIFY2(std::abs(double(out(r, c)) - std::cos(at.x * crs::kRadiansPerDegree)) <
                                 2e-3,
                             qPrintable(
                                 QString("%1 %2: %3").arg(at.x).arg(at.y).arg(double(out(r, c)))));
                }
        };
        // UTM 60S over Fiji, across the antimeridian.
        check(32760, {60, 90, {20000, 0, 300000, 0, -20000, 9000000}});
        // The whole north, pole in the middle.
        check(3413, {80, 80, {100000, 0, -4000000, 0, -100000, 4000000}});
    }

    void hasNothingOutsideTheDomain() {
        const RasterPtr source = planeRaster(100, 100, 50);
        const auto to = *crs::crsFromCode(32629);
        const auto way = crs::Transformation::between(source->info().crs, to);
        // Far beyond anything the transverse Mercator reaches.
        const TargetGrid grid{30, 30, {1e6, 0, -1.5e7, 0, -1e6, 1.5e7}};
        const auto cells = all(ReprojectedRaster(source, *way, to, grid, Resampling::Bilinear));
        std::size_t known = 0;
        for (const float v : cells.cells()) known += !std::isnan(v);
        QVERIFY(known <= 1);
    }

    void keepsTheTypeAndGivesANodata() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(32629);
        info.toWorld = {50, 0, 400000, 0, -50, 6850000};
        info.bands = {{CellType::UInt8, std::nullopt, ""}};
        const RasterPtr source = std::make_shared<MemoryRaster>(info, Grid<float>(20, 20, 9.0F));
        const TargetGrid grid{20, 20, info.toWorld};
        const ReprojectedRaster moved(source, crs::Transformation(), info.crs, grid,
                                      Resampling::Nearest);
        QCOMPARE(moved.info().bands[0].type, CellType::UInt8);
        QCOMPARE(*moved.info().bands[0].nodata, 255.0);
    }
};

QTEST_APPLESS_MAIN(ReprojectedRasterTest)
#include "reprojected_raster_test.moc"
