#include "core/globe/cut.h"

#include <QTest>

#include "core/geometry/measure.h"
#include "core/globe/raster_extent.h"
#include "core/globe/unroll.h"
#include "support/continents.h"

using namespace ledge;
using namespace ledge::globe;

namespace {
Domain degreesAbout(double meridian) {
    auto crs = std::make_shared<crs::Crs>(**crs::crsFromCode(4326));
    crs->code = 0;
    crs->method = crs::Method::EquidistantCylindrical;
    crs->parameters.centralMeridian = meridian;
    return domainOf(crs);
}

Cut cutOf(const Domain& domain, const Geometry& g) {
    Cut out;
    Cutter(domain).cut(g, out);
    return out;
}

Geometry box(double west, double south, double east, double north) {
    return Geometry::polygon({{{west, south}, {east, south}, {east, north}, {west, north}}});
}
}  // namespace

/// Cutting in degrees, by hand where the answer can be told.
class CutTest : public QObject {
    Q_OBJECT

private slots:
    void cutsAtTheAntimeridian() {
        const Cut cut = cutOf(degreesAbout(0), box(170, -10, -160, 10));
        QCOMPARE(cut.geometry.polygons.size(), std::size_t{2});
        QVERIFY(cut.geometry.isMulti);
        QVERIFY(std::abs(planarArea(cut.geometry) - 30 * 20) < 1e-6);
        for (const Point p : cut.geometry.points) QVERIFY(std::abs(p.x) <= 180);
        // Two sides lie along the tear, and no more are no outline.
        QCOMPARE(std::count(cut.isSeam.begin(), cut.isSeam.end(), 1), 2);
        // About 180 degrees there is nothing to cut.
        const Cut whole = cutOf(degreesAbout(180), box(170, -10, -160, 10));
        QCOMPARE(whole.geometry.polygons.size(), std::size_t{1});
        QVERIFY(std::abs(planarArea(whole.geometry) - 600) < 1e-6);
    }

    void keepsHolesInTheirHalves() {
        Geometry g = box(160, -20, -160, 20);
        for (const auto& [west, east] : {std::pair{165.0, 170.0}, {175.0, -175.0}}) {
            const Geometry hole = box(west, -5, east, 5);
            g.addPart(hole, 0, false);
        }
        const Cut cut = cutOf(degreesAbout(0), g);
        QCOMPARE(cut.geometry.polygons.size(), std::size_t{2});
        // The hole across the tear became a bay on both sides; the other one stays a hole.
        QCOMPARE(cut.geometry.partCount(), std::size_t{3});
        QVERIFY(std::abs(planarArea(cut.geometry) - (40 * 40 - 50 - 100)) < 1e-6);
        for (const auto& [at, isOn] : {std::pair{Point{172, 0}, true},
                                       {Point{167, 0}, false},
                                       {Point{178, 0}, false},
                                       {Point{-178, 0}, false},
                                       {Point{-170, 0}, true}})
            QCOMPARE(isInside(cut.geometry, at), isOn);
    }

    void closesAroundPoles_data() {
        QTest::addColumn<double>("lat");
        QTest::addColumn<bool>("eastward");
        for (const double lat : {70.0, -70.0})
            for (const bool east : {true, false})
                QTest::newRow(qPrintable(QString("%1 %2").arg(lat).arg(east))) << lat << east;
    }
    void closesAroundPoles() {
        QFETCH(double, lat);
        QFETCH(bool, eastward);
        std::vector<Point> ring;
        for (int i = 0; i < 12; ++i)
            ring.push_back({std::remainder((eastward ? 30 : -30) * i + 7.0, 360.0), lat});
        const Cut cut = cutOf(degreesAbout(0), Geometry::polygon({ring}));
        QCOMPARE(cut.geometry.polygons.size(), std::size_t{1});
        QVERIFY(std::abs(planarArea(cut.geometry) - 360 * 20) < 1e-6);
        QVERIFY(isInside(cut.geometry, {100, lat > 0 ? 80.0 : -80.0}));
        QVERIFY(!isInside(cut.geometry, {100, 0}));
    }

    void readsJumps_data() {
        QTest::addColumn<double>("from");
        QTest::addColumn<double>("to");
        QTest::addColumn<double>("length");
        QTest::newRow("short") << 10.0 << 50.0 << 40.0;
        QTest::newRow("over the antimeridian") << 170.0 << -170.0 << 20.0;
        QTest::newRow("back over it") << -170.0 << 170.0 << -20.0;
        QTest::newRow("from 0 to 360") << 350.0 << 10.0 << 20.0;
        QTest::newRow("half the earth") << 0.0 << 180.0 << 180.0;
        QTest::newRow("many turns") << 0.0 << 900.0 << 180.0;
    }
    void readsJumps() {
        QFETCH(double, from);
        QFETCH(double, to);
        QFETCH(double, length);
        bool isClamped = false;
        const auto line = unrolled(Geometry::line({{from, 0}, {to, 10}}), 0, 0, false, isClamped);
        QVERIFY(std::abs(std::abs(line.path[1].at.x - line.path[0].at.x) - std::abs(length)) <
                1e-9);
        QVERIFY(!isClamped);
    }

    void carriesHeightsAndMeasures() {
        Geometry line = Geometry::line({{170, 0}, {-170, 20}});
        line.z = {100, 300};
        line.m = {1, 2};
        const Cut cut = cutOf(degreesAbout(0), line);
        QCOMPARE(cut.geometry.partCount(), std::size_t{2});
        QCOMPARE(cut.geometry.z.size(), std::size_t{4});
        QCOMPARE(cut.geometry.z[1], 200.0);
        QCOMPARE(cut.geometry.z[2], 200.0);
        QCOMPARE(cut.geometry.m[1], 1.5);
        QVERIFY(std::abs(cut.geometry.points[1].y - 10) < 1e-9);
    }

    void tellsLatitudesBeyondPoles() {
        const Cut cut = cutOf(degreesAbout(0), box(10, 60, 40, 95));
        QVERIFY(cut.isClamped);
        QVERIFY(std::abs(planarArea(cut.geometry) - 30 * 30) < 1e-6);
    }

    void takesAllOrNothing() {
        const Domain cap =
            domainOf(test::crsOf(*crs::methodInfo(crs::Method::Orthographic), {0, 0}));
        QVERIFY(cutOf(cap, box(120, -20, 160, 20)).geometry.isEmpty());
        const Geometry near = box(-20, -20, 20, 20);
        QVERIFY(Cutter(cap).turnInside(near).has_value());
        // All but a box on the far side: the whole disc.
        Geometry around = box(-180, -90, 180, 90);
        const Cut whole = cutOf(cap, around);
        QCOMPARE(whole.geometry.polygons.size(), std::size_t{1});
        QVERIFY(whole.geometry.points.size() > 300);
    }

    // Points on the boundary of each method are drawn, and those beyond are outside.
    void saysWhereMapsEnd_data() {
        QTest::addColumn<int>("method");
        for (const auto& info : crs::methods()) QTest::newRow(info.name) << int(info.method);
    }
    void saysWhereMapsEnd() {
        QFETCH(int, method);
        const auto map = test::crsOf(*crs::methodInfo(static_cast<crs::Method>(method)), {20, 45});
        const Domain domain = domainOf(map);
        QVERIFY(domain.kind != Domain::Kind::Plane);
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), map);
        const auto edge = domain.boundary(5);
        QVERIFY(edge.size() > 20);
        for (const Point p : edge) {
            const Point at = way->forward(p);
            QVERIFY2(at.isFinite(), qPrintable(QString("%1 %2").arg(p.x).arg(p.y)));
            QVERIFY(domain.contains({p.x, std::clamp(p.y, domain.south, domain.north)}) ||
                    std::abs(arcBetween(domain.centre, p) - domain.radius) < 1e-6);
        }
        // The boundary has the interior on its left.
        if (domain.kind == Domain::Kind::Strip) QVERIFY(signedArea(edge) > 0);
    }

    void findsExtentsOfRasters() {
        RasterInfo info;
        info.crs = *crs::crsFromCode(4326);
        info.width = 360, info.height = 180;
        info.toWorld = {1, 0, -180, 0, -1, 90};
        for (const char* code : {"EPSG:32601", "EPSG:32660", "EPSG:3995", "world:robinson@150"}) {
            const auto map = *crs::parseCrs(code);
            const auto way = *crs::Transformation::between(info.crs, map);
            const auto there = extentOn(info, map, way);
            QVERIFY(there.has_value());
            QCOMPARE(there->remark.empty(), QString(code).startsWith("world"));
            if (map->area)
                QVERIFY(there->box.contains(way.forward(Point{
                    std::remainder(map->area->box.centre().x, 360.0), map->area->box.centre().y})));
        }
        // A raster that lies elsewhere.
        info.toWorld = {0.01, 0, 10, 0, -0.01, 50};
        const auto zone = *crs::crsFromCode(32601);
        const auto way = crs::Transformation::between(info.crs, zone);
        const auto none = extentOn(info, zone, *way);
        QVERIFY(!none && !none.error().mend.empty());
    }
};

QTEST_APPLESS_MAIN(CutTest)
#include "cut_test.moc"
