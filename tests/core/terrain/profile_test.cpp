#include "core/terrain/profile.h"

#include <QTest>
#include <cmath>

#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
double hill(Point p) { return 0.02 * (p.x - 400000) + 0.01 * (p.y - 6800000); }

MemoryRaster demOf(int code = 32629) {
    RasterInfo info;
    info.crs = code ? *crs::crsFromCode(code) : nullptr;
    info.toWorld = {10, 0, 400000, 0, -10, 6805000};
    info.bands = {{CellType::Float32, kNaN, "metre"}};
    Grid<float> cells(500, 500);
    for (std::size_t r = 0; r < 500; ++r)
        for (std::size_t c = 0; c < 500; ++c)
            cells(r, c) =
                static_cast<float>(hill(info.toWorld({double(c) + 0.5, double(r) + 0.5})));
    return MemoryRaster(info, std::move(cells));
}
}  // namespace

class ProfileTest : public QObject {
    Q_OBJECT

private slots:
    void readsAPlaneAlongALine() {
        const auto dem = demOf();
        const std::vector<Point> line{{400500, 6800500}, {403500, 6802500}, {404000, 6801000}};
        const auto points = profile(dem, 0, dem.info().crs, line, 25);
        QVERIFY(points.has_value());
        const crs::Geodesic geodesic(dem.info().crs->ellipsoid);
        double before = -1;
        for (const auto& p : *points) {
            QVERIFY(p.distance > before);
            QVERIFY2(std::abs(p.height - hill(p.at)) < 1e-3,
                     qPrintable(QString::number(p.height - hill(p.at))));
            if (before >= 0) QVERIFY(p.distance - before < 25.0001);
            before = p.distance;
        }
        QCOMPARE(points->front().at, line.front());
        QCOMPARE(points->back().at, line.back());
        bool hasCorner = false;
        for (const auto& p : *points) hasCorner |= distance(p.at, line[1]) < 1e-6;
        QVERIFY(hasCorner);
        // The length is the ellipsoid's, not the grid's.
        double length = 0;
        const auto way = crs::Transformation::between(dem.info().crs, *crs::crsFromCode(4326));
        for (int i = 0; i < 2; ++i)
            length += geodesic
                          .inverse(way->forward(line[std::size_t(i)]),
                                   way->forward(line[std::size_t(i) + 1]))
                          .distance;
        QVERIFY(std::abs(points->back().distance - length) < 1e-6);
        QVERIFY(std::abs(length - 3605.55 - 1581.14) > 0.5);
    }

    void takesLinesInAnotherCrs() {
        const auto dem = demOf();
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), dem.info().crs);
        const std::vector<Point> line{way->inverse(Point{401000, 6801000}),
                                      way->inverse(Point{404000, 6804000})};
        const auto points = profile(dem, 0, *crs::crsFromCode(4326), line, 0);
        QVERIFY(points->size() > 400 && points->size() < 440);  // a cell apart
        for (const auto& p : *points) QVERIFY(std::abs(p.height - hill(way->forward(p.at))) < 1e-3);
    }

    void workWithoutAnyCrs() {
        const auto dem = demOf(0);
        const std::vector<Point> line{{400500, 6800500}, {403500, 6804500}};
        const auto points = profile(dem, 0, nullptr, line, 100);
        QCOMPARE(points->back().distance, 5000.0);
        QCOMPARE(points->size(), std::size_t{51});
    }

    void leavesGapsWhereThereIsNothing() {
        const auto dem = demOf();
        const std::vector<Point> line{{399000, 6801000}, {402000, 6801000}};
        const auto points = profile(dem, 0, dem.info().crs, line, 50);
        int missing = 0;
        for (const auto& p : *points) missing += std::isnan(p.height);
        QVERIFY(missing >= 19 && missing <= 21);
    }

    void sumsUpWhatItPasses() {
        std::vector<ProfilePoint> points;
        for (int i = 0; i <= 4; ++i) points.push_back({i * 100.0, {}, 0});
        points[1].height = 30, points[2].height = 10, points[3].height = 50, points[4].height = 50;
        const auto s = summary(points);
        QCOMPARE(s.length, 400.0);
        QCOMPARE(s.ascent, 70.0);
        QCOMPARE(s.descent, 20.0);
        QCOMPARE(s.lowest, 0.0);
        QCOMPARE(s.highest, 50.0);
        QCOMPARE(s.steepest, 0.4);
        QCOMPARE(s.steepestFrom, 200.0);
        QVERIFY(std::abs(s.surfaceLength - (std::hypot(100, 30) + std::hypot(100, 20) +
                                            std::hypot(100, 40) + 100)) < 1e-9);
        // Feet.
        QVERIFY(std::abs(summary(points, 0.3048).ascent - 70 * 0.3048) < 1e-12);
    }

    void refusesWhatIsNoLine() {
        const auto dem = demOf();
        QVERIFY(!profile(dem, 0, dem.info().crs, std::vector<Point>{{0, 0}}, 10));
        QVERIFY(!profile(dem, 0, dem.info().crs,
                         std::vector<Point>{{400000, 6800000}, {401000, 6800000}}, -1));
        QVERIFY(!profile(dem, 0, dem.info().crs,
                         std::vector<Point>{{400000, 6800000}, {401000, 6800000}}, 1e-9));
        QVERIFY(!profile(dem, 0, dem.info().crs, std::vector<Point>{{kNaN, 0}, {1, 1}}, 10));
    }
};

QTEST_APPLESS_MAIN(ProfileTest)
#include "profile_test.moc"
