#include "core/globe/nearness.h"

#include <QTest>

#include "core/base/random.h"
#include "core/geometry/wkt_shape.h"

using namespace ledge;
using namespace ledge::globe;

// Features near to those of another layer.
class NearnessTest : public QObject {
    Q_OBJECT

private:
    static FeatureTable tableOf(const std::vector<Geometry>& shapes, const crs::CrsPtr& crs) {
        FeatureList list;
        list.info.name = "others";
        list.info.crs = crs;
        for (const Geometry& shape : shapes)
            list.features.push_back({std::int64_t(list.features.size()), shape, {}});
        return list;
    }

private Q_SLOTS:
    // The search finds what looking at every pair finds.
    void agreesWithEveryPair() {
        Random random(31);
        const auto degrees = *crs::crsFromCode(4326);
        const GroundMeasure ground(degrees);
        std::vector<Geometry> others;
        for (int i = 0; i < 120; ++i) {
            const Point p{random.between(-11, -10), random.between(61, 62)};
            if (i % 3 == 0) {
                others.push_back(Geometry::point(p));
            } else if (i % 3 == 1) {
                std::vector<Point> line{p};
                for (int k = 0; k < 80; ++k)
                    line.push_back(line.back() + Point{random.between(-0.004, 0.004),
                                                       random.between(-0.002, 0.002)});
                others.push_back(Geometry::line(line));
            } else {
                others.push_back(Geometry::polygon(
                    {{p, p + Point{0.03, 0}, p + Point{0.03, 0.02}, p + Point{0, 0.02}}}));
            }
        }
        const auto nearness = Nearness::to(tableOf(others, degrees), degrees);
        QVERIFY(nearness);
        int within = 0;
        for (int i = 0; i < 60; ++i) {
            const Geometry asked =
                Geometry::point({random.between(-11, -10), random.between(61, 62)});
            double least = 1e300;
            for (const Geometry& other : others)
                least = std::min(least, ground.distance(asked, other));
            const auto found = nearness->nearest(asked, 1e9);
            QVERIFY(found);
            QVERIFY2(std::abs(found->metres - least) < 1e-3 + 1e-6 * least,
                     qPrintable(QString("%1 %2").arg(found->metres).arg(least)));
            for (const double metres : {0.0, 100.0, 1500.0, 8000.0}) {
                if (std::abs(metres - least) < 1) continue;
                QCOMPARE(nearness->isWithin(asked, metres), least <= metres);
                within += least <= metres;
            }
            QVERIFY(!nearness->nearest(asked, least - 1) || least < 1);
        }
        QVERIFY(within > 30);
    }
    void inAnotherCrsAndAcrossTheAntimeridian() {
        const auto degrees = *crs::crsFromCode(4326);
        const auto utm = *crs::crsFromCode(32629);
        const auto way = *crs::Transformation::between(degrees, utm);
        const Point here = way.forward(Point{-9, 61.6});
        const auto nearness = Nearness::to(tableOf({Geometry::point({-9, 61.6})}, degrees), utm);
        QVERIFY(nearness);
        // 500 m on the grid are 500.2 m on the ground at the central meridian.
        QVERIFY(nearness->isWithin(Geometry::point(here + Point{0, 500}), 500.3));
        QVERIFY(!nearness->isWithin(Geometry::point(here + Point{0, 500}), 500.1));
        const auto across =
            Nearness::to(tableOf({Geometry::point({-179.999, 10})}, degrees), degrees);
        QVERIFY(across->isWithin(Geometry::point({179.999, 10}), 300));
        QVERIFY(!across->isWithin(Geometry::point({179.999, 10}), 200));
        const auto pole = Nearness::to(tableOf({Geometry::point({10, 89.999})}, degrees), degrees);
        QVERIFY(pole->isWithin(Geometry::point({-170, 89.999}), 300));
    }
    void withoutCrs() {
        const auto nearness = Nearness::to(tableOf({Geometry::point({3, 4})}, nullptr), nullptr);
        QVERIFY(nearness->isWithin(Geometry::point({0, 0}), 5));
        QVERIFY(!nearness->isWithin(Geometry::point({0, 0}), 4.9));
        const auto mixed =
            Nearness::to(tableOf({Geometry::point({3, 4})}, nullptr), *crs::crsFromCode(4326));
        QVERIFY(!mixed);
        QVERIFY(mixed.error().text().find("declare") != std::string::npos);
    }
};

QTEST_APPLESS_MAIN(NearnessTest)
#include "nearness_test.moc"
