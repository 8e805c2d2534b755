#include "core/crs/geodesic.h"

#include <QTest>

#include "core/base/random.h"
#include "core/crs/latitudes.h"
#include "core/crs/projection.h"
#include "support/reference_table.h"

using namespace ledge;
using namespace ledge::crs;
using ledge::test::number;
using ledge::test::Row;

namespace {
double angleBetween(double a, double b) { return std::abs(std::remainder(a - b, 360.0)); }
}  // namespace

class GeodesicTest : public QObject {
    Q_OBJECT

private slots:
    void agreesWithTheTable_data() {
        QTest::addColumn<int>("index");
        for (std::size_t i = 0; i < rows().size(); ++i)
            QTest::addRow("%s #%d", qPrintable(rows()[i].at("category")), int(i)) << int(i);
    }
    void agreesWithTheTable() {
        QFETCH(int, index);
        const Row& row = rows()[static_cast<std::size_t>(index)];
        const Geodesic geodesic({"", number(row, "a_m"), number(row, "inverse_flattening")});
        const Point from{number(row, "lon1"), number(row, "lat1")};
        const Point to{number(row, "lon2"), number(row, "lat2")};
        const double s12 = number(row, "s12_m");
        const auto line = geodesic.inverse(from, to);
        // 1e-8 m, and what a double holds of a length of this size.
        QVERIFY2(std::abs(line.distance - s12) < 1e-8 + 4e-16 * s12,
                 qPrintable(QString::number(line.distance - s12)));
        // The azimuth of a short or nearly antipodal line is as certain as its ends allow.
        const auto there = geodesic.direct(from, line.bearingStart, line.distance);
        const auto back = geodesic.inverse(there.at, to);
        QVERIFY2(back.distance < 2e-8, qPrintable(QString::number(back.distance)));
        const auto direct = geodesic.direct(from, number(row, "azi1"), s12);
        QVERIFY2(geodesic.inverse(direct.at, to).distance < 2e-8,
                 qPrintable(QString::number(geodesic.inverse(direct.at, to).distance)));
        if (std::abs(to.y) < 89.9)
            QVERIFY2(angleBetween(direct.bearing, number(row, "azi2")) *
                             std::cos(to.y * kRadiansPerDegree) <
                         1e-9,
                     qPrintable(QString::number(direct.bearing, 'g', 17)));
        if (row.at("category") == "random" || row.at("note").isEmpty()) {
            if (s12 > 1 && s12 < 1.9e7)
                QVERIFY(angleBetween(line.bearingStart, number(row, "azi1")) <
                        1e-7 / std::min(1.0, s12 / 1e6));
        }
    }

    void measuresTheTablesPolygons_data() {
        QTest::addColumn<int>("index");
        for (std::size_t i = 0; i < polygons().size(); ++i)
            QTest::addRow("#%s", qPrintable(polygons()[i].at("id"))) << int(i);
    }
    void measuresTheTablesPolygons() {
        QFETCH(int, index);
        const Row& row = polygons()[static_cast<std::size_t>(index)];
        const Geodesic geodesic({"", number(row, "a_m"), number(row, "inverse_flattening")});
        std::vector<Point> ring;
        for (const QString& pair : row.at("ring").split(';')) {
            const auto parts = pair.trimmed().split(' ');
            ring.push_back({parts[1].toDouble(), parts[0].toDouble()});
        }
        const auto got = geodesic.polygon(ring);
        const double sign = row.at("orientation") == "cw" ? -1 : 1;
        const double area = number(row, "area_m2");
        // The paper's bound is 0.1 square metre a vertex; small rings are far better.
        const double bound = std::min(0.1, 1e-4 + 4e-9 * number(row, "perimeter_m"));
        QVERIFY2(std::abs(got.area - sign * area) < bound * double(ring.size()) + 1e-14 * area,
                 qPrintable(QString("%1 for %2").arg(got.area, 0, 'g', 17).arg(area, 0, 'g', 17)));
        QVERIFY(std::abs(got.perimeter - number(row, "perimeter_m")) < 1e-7 * double(ring.size()));
        std::reverse(ring.begin(), ring.end());
        ring.push_back(ring.front());
        QVERIFY(std::abs(geodesic.polygon(ring).area + got.area) <= 1e-3 + 1e-13 * area);
    }

    void comesBackFromRandomPairs() {
        const Geodesic geodesic{Ellipsoid{}};
        Random random(11);
        for (int i = 0; i < 20000; ++i) {
            const Point from{random.unit() * 360 - 180, random.unit() * 180 - 90};
            Point to{random.unit() * 360 - 180, random.unit() * 180 - 90};
            if (i % 4 == 0) {  // nearly antipodal
                to = {from.x + 180 + (random.unit() - 0.5) * 2,
                      -from.y + (random.unit() - 0.5) * 2};
                to.y = std::clamp(to.y, -90.0, 90.0);
            }
            const auto line = geodesic.inverse(from, to);
            QVERIFY(line.distance >= 0 && line.distance < 20003932);
            const auto end = geodesic.direct(from, line.bearingStart, line.distance);
            const double miss = geodesic.inverse(end.at, to).distance;
            QVERIFY2(miss < 3e-8, qPrintable(QString("%1,%2 %3,%4 misses by %5")
                                                 .arg(from.x, 0, 'g', 17)
                                                 .arg(from.y, 0, 'g', 17)
                                                 .arg(to.x, 0, 'g', 17)
                                                 .arg(to.y, 0, 'g', 17)
                                                 .arg(miss)));
        }
    }

    void reproducesThePublishedExamples() {
        // Karney 2013: the antipodal example and the area under the direct one.
        const Geodesic geodesic{Ellipsoid{}};
        const auto line = geodesic.inverse({0, -30}, {179.8, 29.9});
        QVERIFY(std::abs(line.distance - 19989832.827609529) < 2e-8);
        QVERIFY(std::abs(line.bearingStart - 161.89052473632611) < 1e-10);
        // The quadrilateral to the equator below the line, as a ring along the two meridians.
        const auto end = geodesic.direct({0, 40}, 30, 10000000);
        const std::vector<Point> ring{{0, 0}, {end.at.x, 0}, end.at, {0, 40}};
        QVERIFY(std::abs(std::abs(geodesic.polygon(ring).area) - 84275623422354.451) < 0.5);
    }

    void knowsEllipsoidConstants() {
        for (const Row& row : test::readTable("crs/ellipsoid-constants.csv")) {
            const Ellipsoid e{"", number(row, "a_m"), number(row, "inverse_flattening")};
            QVERIFY(std::abs(e.semiMinor() - number(row, "b_m")) < 1e-8);
            QVERIFY(std::abs(e.eccentricitySquared() - number(row, "e2")) < 1e-16);
            QVERIFY(std::abs(MeridianDistance(e).toPole() - number(row, "quarter_meridian_m")) <
                    1e-8);
            QVERIFY(std::abs(AuthalicLatitude(e).radius() - number(row, "authalic_radius_m")) <
                    1e-8);
            const Geodesic geodesic(e);
            QVERIFY(std::abs(geodesic.inverse({0, 0}, {0, 90}).distance -
                             number(row, "quarter_meridian_m")) < 1e-8);
            // An octant is an eighth of the surface.
            const double surface = number(row, "surface_area_m2");
            QVERIFY(std::abs(geodesic.polygon(std::vector<Point>{{0, 0}, {90, 0}, {0, 90}}).area *
                                 8 / surface -
                             1) < 1e-14);
        }
    }

    void knowsTheSphere() {
        const Geodesic sphere({"sphere", 6371000, 0});
        const auto line = sphere.inverse({0, 0}, {90, 0});
        QVERIFY(std::abs(line.distance - 6371000 * kPi / 2) < 1e-8);
        const std::vector<Point> octant{{0, 0}, {90, 0}, {0, 90}};
        QVERIFY(std::abs(sphere.polygon(octant).area - 6371000.0 * 6371000 * kPi / 2) < 1e-1);
    }

    void drawsTheTrueCurve() {
        const Geodesic geodesic{Ellipsoid{}};
        const auto points = geodesic.densified({-10, 60}, {80, 60}, 200000);
        QVERIFY(points.size() > 20);
        double length = 0, highest = 0;
        for (std::size_t i = 1; i < points.size(); ++i) {
            length += geodesic.inverse(points[i - 1], points[i]).distance;
            highest = std::max(highest, points[i].y);
        }
        QVERIFY(std::abs(length - geodesic.inverse({-10, 60}, {80, 60}).distance) < 1e-6);
        QVERIFY(highest > 67);
    }

    void refusesWhatIsNoPosition() {
        const Geodesic geodesic{Ellipsoid{}};
        QVERIFY(std::isnan(geodesic.inverse({0, 91}, {0, 0}).distance));
        QVERIFY(std::isnan(geodesic.inverse({kNaN, 0}, {0, 0}).distance));
        QVERIFY(!geodesic.direct({0, 0}, kNaN, 1).at.isFinite());
        QCOMPARE(geodesic.inverse({5, 50}, {5, 50}).distance, 0.0);
    }

    void keepsTheBearingOfRhumbLines() {
        const Ellipsoid e;
        const auto line = rhumbLine(e, {-10, 50}, {20, 61});
        const Point end = rhumbEnd(e, {-10, 50}, line.bearingStart, line.distance);
        QVERIFY(distance(end, {20, 61}) < 1e-10);
        // In the middle it still heads the same way.
        const Point middle = rhumbEnd(e, {-10, 50}, line.bearingStart, line.distance / 2);
        QVERIFY(std::abs(rhumbLine(e, middle, {20, 61}).bearingStart - line.bearingStart) < 1e-9);
        QVERIFY(line.distance > Geodesic(e).inverse({-10, 50}, {20, 61}).distance);
        // Along a parallel and a meridian.
        const auto parallel = rhumbLine(e, {0, 60}, {1, 60});
        QVERIFY(std::abs(parallel.distance - metresPerDegree(e, 60).x) < 1e-6);
        QCOMPARE(parallel.bearingStart, 90.0);
        QVERIFY(std::abs(rhumbLine(e, {3, 0}, {3, 90}).distance -
                         Geodesic(e).inverse({3, 0}, {3, 90}).distance) < 1e-8);
    }

private:
    static const std::vector<Row>& rows() {
        static const auto table = test::readTable("crs/geodesics.csv");
        return table;
    }
    static const std::vector<Row>& polygons() {
        static const auto table = test::readTable("crs/geodesic-polygons.csv");
        return table;
    }
};

QTEST_APPLESS_MAIN(GeodesicTest)
#include "geodesic_test.moc"
