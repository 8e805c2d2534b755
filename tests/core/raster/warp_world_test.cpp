#include <QTest>
#include <random>

#include "core/raster/warp.h"
#include "support/continents.h"

using namespace ledge;

namespace {
// A smooth field on the sphere, on a global grid in degrees.
double field(Point lonLat) {
    const double lon = lonLat.x * kPi / 180, lat = lonLat.y * kPi / 180;
    return 100 * std::sin(lat) + 40 * std::cos(lat) * std::cos(2 * lon) +
           10 * std::cos(lat) * std::sin(lon);
}

RasterPtr earth(double cell, double west) {
    RasterInfo info;
    info.crs = *crs::crsFromCode(4326);
    info.toWorld = {cell, 0, west, 0, -cell, 90};
    const auto cols = static_cast<std::size_t>(std::lround(360 / cell)),
               rows = static_cast<std::size_t>(std::lround(180 / cell));
    Grid<float> z(rows, cols);
    for (std::size_t r = 0; r < rows; ++r)
        for (std::size_t c = 0; c < cols; ++c)
            z(r, c) = static_cast<float>(field(info.toWorld({double(c) + 0.5, double(r) + 0.5})));
    return std::make_shared<MemoryRaster>(info, std::move(z));
}
}  // namespace

/// Global grids on maps of the world: no seam, no hole, no place read too coarsely.
class WarpWorldTest : public QObject {
    Q_OBJECT

private slots:
    void showsTheWholeEarth_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<double>("west");
        QTest::addColumn<double>("cell");
        for (const char* crs :
             {"world:robinson", "world:robinson@150", "EPSG:3857", "EPSG:3995", "EPSG:3031",
              "world:azimuthal-equal-area@20,50", "world:hammer@-100", "world:homolosine",
              "world:orthographic@10,80"})
            for (const double west : {-180.0, 0.0})
                for (const double cell : {0.5, 3.0})
                    QTest::newRow(qPrintable(QString("%1 %2 %3").arg(crs).arg(west).arg(cell)))
                        << crs << west << cell;
    }
    void showsTheWholeEarth() {
        QFETCH(QString, crs);
        QFETCH(double, west);
        QFETCH(double, cell);
        const auto to = crs::parseCrs(crs.toStdString());
        if (!to) QSKIP("no such CRS here");
        const Pyramid pyramid(earth(cell, west), 0);
        const auto way = crs::Transformation::between(pyramid.source().info().crs, *to);
        QVERIFY(way.has_value());
        const auto domain = globe::domainOf(*to);
        Box box;
        std::mt19937 random(1);
        for (int i = 0; i < 4000; ++i)
            if (const Point p = test::randomPlace(random); domain.contains(p))
                box.add(way->forward(p));
        const double pixel = box.width() / 300;
        const auto rows = static_cast<std::size_t>(box.height() / pixel) + 10;
        const TargetGrid grid{
            rows, 310, {pixel, 0, box.xMin - 5 * pixel, 0, -pixel, box.yMax + 5 * pixel}};
        const auto out = warped(pyramid, *way, grid, Resampling::Bilinear);
        QVERIFY(out.has_value());
        int checked = 0;
        for (std::size_t r = 0; r < grid.rows; ++r)
            for (std::size_t c = 0; c < grid.cols; ++c) {
                const Point at = grid.toWorld({double(c) + 0.5, double(r) + 0.5});
                const Point p = way->inverse(at);
                const float v = (*out)(r, c);
                if (!p.isFinite()) {
                    QVERIFY2(std::isnan(v), "drawn outside the globe");
                    continue;
                }
                const QString where = QString("%1 %2").arg(p.x).arg(p.y);
                QVERIFY2(!std::isnan(v), qPrintable("a hole at " + where));
                // By how much the field changes within a pixel and a cell there.
                double change = 0;
                for (const Point d : {Point{1, 0}, Point{-1, 0}, Point{0, 1}, Point{0, -1}}) {
                    const Point q = way->inverse(at + d * pixel);
                    if (q.isFinite()) change = std::max(change, std::abs(field(q) - field(p)));
                }
                const double allowed = 1.5 * change + 150 * cell * kPi / 180 * 0.5 + 0.3;
                QVERIFY2(std::abs(double(v) - field(p)) < allowed,
                         qPrintable(QString("%1: %2, truly %3").arg(where).arg(v).arg(field(p))));
                ++checked;
            }
        QVERIFY(checked > 10000);
    }

    // Where the map shows little of the earth across its far meridian, only that is read.
    void readsAcrossTheSeam() {
        for (const double west : {-180.0, 0.0}) {
            const Pyramid pyramid(earth(0.25, west), 0);
            const auto to = *crs::crsFromCode(32601);
            const auto way = crs::Transformation::between(pyramid.source().info().crs, to);
            const Point middle = way->forward(Point{180, 10});
            const TargetGrid grid{
                120, 160, {9000, 0, middle.x - 80 * 9000.0, 0, -9000, middle.y + 60 * 9000.0}};
            const auto out = warped(pyramid, *way, grid, Resampling::Cubic);
            QVERIFY(out.has_value());
            for (std::size_t r = 0; r < grid.rows; ++r)
                for (std::size_t c = 0; c < grid.cols; ++c) {
                    const Point p = way->inverse(grid.toWorld({double(c) + 0.5, double(r) + 0.5}));
                    QVERIFY(std::abs(double((*out)(r, c)) - field(p)) < 0.2);
                }
        }
    }

    // A grid of islands on both sides of 180 degrees, told beyond 180.
    void findsAGridToldBeyond180() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(4326);
        info.toWorld = {0.05, 0, 176, 0, -0.05, -14};
        Grid<float> z(100, 160, 7);
        const Pyramid pyramid(std::make_shared<MemoryRaster>(info, z), 0);
        const auto to = *crs::parseCrs("world:robinson@180");
        const auto way = crs::Transformation::between(info.crs, to);
        for (const Point p : {Point{177, -16}, Point{-177.5, -16}, Point{179.99, -17}}) {
            const Point at = way->forward(p);
            const auto out =
                warped(pyramid, *way, {3, 3, {5000, 0, at.x - 7500, 0, -5000, at.y + 7500}},
                       Resampling::Bilinear);
            QVERIFY(out.has_value());
            QCOMPARE((*out)(1, 1), 7.0F);
        }
    }
};

QTEST_APPLESS_MAIN(WarpWorldTest)
#include "warp_world_test.moc"
