#include "core/globe/ground_measure.h"

#include <QTest>

#include "core/base/random.h"
#include "core/geometry/wkt_shape.h"

using namespace ledge;
using namespace ledge::globe;

// Lengths, areas and distances of shapes on the ellipsoid.
class GroundMeasureTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // A degree of the meridian and of the equator, from the series of the meridian arc and the
    // semi-axis of the ellipsoid.
    void degreesAreKnown() {
        const GroundMeasure ground(*crs::crsFromCode(4326));
        const auto line = [](Point a, Point b) { return Geometry::line({a, b}); };
        QVERIFY(std::abs(ground.length(line({0, 0}, {1, 0})) - 111319.49079327358) < 1e-6);
        QVERIFY(std::abs(ground.length(line({7, 0}, {7, 1})) - 110574.38855778) < 1e-5);
        // All of the northern hemisphere is half of the ellipsoid's surface of 510 065 621.724 km2.
        const auto cap = Geometry::polygon({{{-180, 0}, {-90, 0}, {0, 0}, {90, 0}, {180, 0}}});
        QVERIFY(std::abs(ground.area(cap) / 1e6 - 510065621.724 / 2) < 1);
    }
    void holesAreTakenOut() {
        const GroundMeasure ground(*crs::crsFromCode(32629));
        const auto whole = *shapeFromWkt("POLYGON((500000 6830000, 500100 6830000, 500100 6830100, "
                                         "500000 6830100))");
        auto holed =
            *shapeFromWkt("POLYGON((500000 6830000, 500100 6830000, 500100 6830100, 500000 "
                          "6830100),(500050 6830050, 500060 6830050, 500060 6830060, "
                          "500050 6830060))");
        // On the central meridian the scale is 0.9996.
        QVERIFY(std::abs(ground.area(whole) - 10000 / (0.9996 * 0.9996)) < 0.01);
        QVERIFY(std::abs(ground.area(holed) - 9900 / (0.9996 * 0.9996)) < 0.01);
    }
    void withoutCrsThePlaneCounts() {
        const GroundMeasure plane(nullptr);
        QVERIFY(!plane.isOnEllipsoid());
        QCOMPARE(plane.distance(Geometry::point({0, 0}), Geometry::line({{3, -9}, {3, 9}})), 3.0);
        QCOMPARE(plane.distance(Geometry::point({0, 0}),
                                *shapeFromWkt("POLYGON((-1 -1, 1 -1, 1 1, -1 1))")),
                 0.0);
        QVERIFY(std::isnan(plane.distance(Geometry(), Geometry::point({1, 1}))));
    }
    // Beside a search over finely divided shapes with the exact distance of points.
    void nearestIsFound() {
        Random random(21);
        const crs::Geodesic geodesic(crs::Ellipsoid{});
        for (int i = 0; i < 40; ++i) {
            const double size = i % 2 == 0 ? 0.02 : 2;
            const Point centre{random.between(-180, 180), random.between(-75, 75)};
            const auto line = [&] {
                std::vector<Point> points;
                for (int k = 0; k < 4; ++k)
                    points.push_back({centre.x + random.between(-size, size),
                                      centre.y + random.between(-size, size)});
                return points;
            };
            const auto a = line();
            auto b = line();
            for (Point& p : b) p.x += 2.5 * size;
            // Sides of the shapes are geodesics for lengths; here they are straight in degrees when
            // divided, which is near enough for short ones.
            const auto divided = [](const std::vector<Point>& points) {
                std::vector<Point> out;
                for (std::size_t k = 1; k < points.size(); ++k)
                    for (int s = 0; s <= 60; ++s)
                        out.push_back(points[k - 1] + (points[k] - points[k - 1]) * (s / 60.0));
                return out;
            };
            double least = 1e300;
            for (const Point p : divided(a))
                for (const Point q : divided(b))
                    least = std::min(least, geodesic.inverse(p, q).distance);
            const double found =
                distanceOnEllipsoid(geodesic, Geometry::line(a), Geometry::line(b));
            QVERIFY2(std::abs(found - least) < 0.01 * least + (size > 1 ? 2000 : 5),
                     qPrintable(QString("%1 %2").arg(found).arg(least)));
        }
    }
    void acrossTheAntimeridianAndNearAPole() {
        const GroundMeasure ground(*crs::crsFromCode(4326));
        const crs::Geodesic geodesic(crs::Ellipsoid{});
        const double across = ground.distance(Geometry::line({{179.99, 10}, {179.99, 11}}),
                                              Geometry::point({-179.99, 10.5}));
        QVERIFY(std::abs(across - geodesic.inverse({179.99, 10.5}, {-179.99, 10.5}).distance) <
                0.1);
        const double polar =
            ground.distance(Geometry::point({0, 89.9}), Geometry::point({180, 89.9}));
        QVERIFY(std::abs(polar - geodesic.inverse({0, 89.9}, {180, 89.9}).distance) < 1e-6);
    }
};

QTEST_APPLESS_MAIN(GroundMeasureTest)
#include "ground_measure_test.moc"
