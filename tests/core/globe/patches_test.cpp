#include "core/globe/patches.h"

#include <QTest>
#include <map>
#include <random>

#include "core/globe/mapping.h"
#include "support/continents.h"

using namespace ledge;
using namespace ledge::globe;
using namespace ledge::test;

namespace {
// Many small shapes over a box of a CRS: rings, lines and points, some of them long.
FeatureTable shapesOver(const crs::CrsPtr& crs, const Box& box, double size, int count) {
    std::mt19937 random(11);
    std::uniform_real_distribution<double> unit(0, 1);
    FeatureList list;
    list.info.crs = crs;
    for (int i = 0; i < count; ++i) {
        const Point at{box.xMin + box.width() * unit(random),
                       box.yMin + box.height() * unit(random)};
        const double reach = size * (i % 50 == 0 ? 200 : 1);
        const auto near = [&] {
            return at + Point{unit(random) - 0.5, unit(random) - 0.5} * reach;
        };
        Geometry g;
        if (i % 5 == 0)
            g = Geometry::point(at);
        else if (i % 5 == 1)
            g = Geometry::line({near(), near(), near()});
        else
            g = Geometry::polygon({{near(), near(), near(), near()}});
        list.features.push_back({i + 1, std::move(g), {}});
    }
    return FeatureTable(list);
}
}  // namespace

/// Small shapes by patches are where they are without.
class PatchesTest : public QObject {
    Q_OBJECT

private:
    // Returns how many shapes the patches mapped.
    static int compare(const FeatureTable& table, const crs::CrsPtr& to, double tolerance) {
        const auto mapper = Mapper::between(table.info.crs, to, tolerance);
        if (!mapper) return -1;
        const auto patches = mapper->patches(wholeOf(table));
        if (!patches) return 0;
        const double micrometre = 1e-6 / to->metresPerUnit();
        int taken = 0;
        Mapper::Scratch scratch;
        std::vector<Point> images;
        std::vector<std::uint8_t> seam;
        for (std::size_t i = 0; i < table.size(); ++i) {
            const auto strays = patches->map(table.geometry(i), images);
            if (!strays) continue;
            ++taken;
            Geometry exact;
            const auto outcome = mapper->map(table.geometry(i), exact, seam, scratch);
            // Nothing that only a look at the shape itself would tell.
            if (outcome.isCut || outcome.isClamped || !seam.empty() ||
                exact.points.size() != images.size() ||
                outcome.strayed > *strays * (1 + 1e-9) + 1e-12 || *strays > tolerance)
                return -2;
            for (std::size_t k = 0; k < images.size(); ++k)
                if (!(distance(exact.points[k], images[k]) <= micrometre)) {
                    qWarning("%g of a micrometre",
                             distance(exact.points[k], images[k]) / micrometre);
                    return -3;
                }
        }
        return taken;
    }

private slots:
    void agreesWithTheExactWay_data() {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::addColumn<Box>("box");
        QTest::addColumn<double>("size");
        const Box ground{400000, 6800000, 440000, 6840000}, degrees{-11, 61, -10, 61.5};
        QTest::newRow("transverse Mercator to equal area") << "EPSG:32629"
                                                           << "EPSG:3035" << ground << 60.0;
        QTest::newRow("and back") << "EPSG:3035"
                                  << "EPSG:32629" << Box{2700000, 4400000, 2760000, 4460000}
                                  << 60.0;
        QTest::newRow("to degrees") << "EPSG:32629"
                                    << "EPSG:4326" << ground << 60.0;
        QTest::newRow("from degrees") << "EPSG:4326"
                                      << "EPSG:32629" << degrees << 1e-3;
        QTest::newRow("degrees to Mercator") << "EPSG:4326"
                                             << "EPSG:3857" << degrees << 1e-3;
        QTest::newRow("another datum") << "EPSG:23029"
                                       << "EPSG:3035" << ground << 60.0;
        QTest::newRow("feet") << "EPSG:32629"
                              << "EPSG:27700" << ground << 60.0;
    }
    void agreesWithTheExactWay() {
        QFETCH(QString, from);
        QFETCH(QString, to);
        QFETCH(Box, box);
        QFETCH(double, size);
        const auto source = crs::parseCrs(from.toStdString()),
                   target = crs::parseCrs(to.toStdString());
        QVERIFY(source && target);
        const auto table = shapesOver(*source, box, size, 20'000);
        const double tolerance = 0.1 / (*target)->metresPerUnit();
        const int taken = compare(table, *target, tolerance);
        // All but long ones, and those that reach beyond the margin of their patch.
        QVERIFY2(taken > 19'000, qPrintable(QString::number(taken)));
    }

    // Over half the earth, in every method: over tears, edges and poles shapes are left to the
    // exact way, and the others are where that has them.
    void leavesTornCountry_data() {
        QTest::addColumn<int>("method");
        QTest::addColumn<double>("lon");
        for (const auto& info : crs::methods())
            for (const double lon : {0.0, 170.0})
                QTest::newRow(qPrintable(QString("%1 %2").arg(info.name).arg(lon)))
                    << int(info.method) << lon;
    }
    void leavesTornCountry() {
        QFETCH(int, method);
        QFETCH(double, lon);
        const auto to = crsOf(*crs::methodInfo(static_cast<crs::Method>(method)), {lon, 40});
        const auto degrees = *crs::crsFromCode(4326);
        const auto table = shapesOver(degrees, {-181, -91, 181, 91}, 0.02, 40'000);
        const double tolerance = 1000 / to->metresPerUnit();
        QVERIFY(compare(table, to, tolerance) >= 0);
        // As a whole: the same features are outside, cut and clamped as one by one.
        const auto mapper = Mapper::between(degrees, to, tolerance);
        std::size_t outside = 0, cut = 0, clamped = 0;
        Mapper::Scratch scratch;
        std::vector<std::uint8_t> seam;
        for (std::size_t i = 0; i < table.size(); ++i) {
            Geometry image;
            const auto outcome = mapper->map(table.geometry(i), image, seam, scratch);
            outside += image.isEmpty();
            cut += outcome.isCut && !image.isEmpty();
            clamped += outcome.isClamped;
        }
        const auto made = mapped(table, to, tolerance);
        QVERIFY(made.has_value());
        QCOMPARE(made->outside, outside);
        QCOMPARE(made->cut, cut);
        QCOMPARE(made->clamped, clamped);
    }

    // What two shapes share stays shared, whatever else they have, and part by part.
    void keepsNeighboursTogether() {
        const auto from = *crs::crsFromCode(32629), to = *crs::crsFromCode(3035);
        FeatureList list;
        list.info.crs = from;
        for (int i = 0; i < 6000; ++i) {
            const Point at{400000.0 + i % 80 * 90, 6800000.0 + i / 80 * 90};
            list.features.push_back({i + 1,
                                     Geometry::polygon({{at, at + Point{90, 0}, at + Point{90, 90},
                                                         at + Point{0, 90}}}),
                                     {}});
        }
        // One whose sides are so long that they need points between, about all of them.
        list.features.push_back(
            {7000,
             Geometry::polygon(
                 {{{400000, 6800000}, {407200, 6800000}, {407200, 6806750}, {400000, 6806750}}}),
             {}});
        const FeatureTable table(list);
        const auto made = mapped(table, to, 0.1);
        QVERIFY(made.has_value());
        std::map<std::pair<double, double>, Point> images;
        const auto look = [&](const GeometryView& shape, const GeometryView& image) {
            QCOMPARE(image.points.size(), shape.points.size());
            for (std::size_t i = 0; i < shape.points.size(); ++i) {
                const auto [it, isNew] =
                    images.try_emplace({shape.points[i].x, shape.points[i].y}, image.points[i]);
                QVERIFY(it->second == image.points[i]);
            }
        };
        for (std::size_t i = 0; i < 6000; ++i) look(table.geometry(i), made->table.geometry(i));
        const GeometryView outer = made->table.geometry(6000);
        QVERIFY(outer.points.size() > 5);
        for (const Point corner : table.geometry(6000).points)
            QVERIFY(std::find(outer.points.begin(), outer.points.end(),
                              images.at({corner.x, corner.y})) != outer.points.end());
        const auto mapping = Mapping::between(from, to, 0.1, wholeOf(table));
        for (const std::size_t begin : {0u, 2500u, 5000u}) {
            const auto part = table.filtered(
                [&](const FeatureView& f) { return f.index >= begin && f.index < begin + 2500; });
            const auto there = mapping->map(part, false, {});
            QVERIFY(there.has_value());
            for (std::size_t i = 0; i < part.size(); ++i)
                QVERIFY(std::ranges::equal(there->table.geometry(i).points,
                                           made->table.geometry(begin + i).points));
        }
    }

    void keepsHeightsAndParts() {
        const auto crs = *crs::crsFromCode(32629);
        FeatureList list;
        list.info.crs = crs;
        for (int i = 0; i < 5000; ++i) {
            const Point at{400000.0 + i % 100 * 50, 6800000.0 + i / 100 * 50};
            Geometry g = Geometry::line({at, at + Point{20, 5}, at + Point{30, 30}});
            g.z = {1.0 * i, 2, 3};
            list.features.push_back({i + 1, std::move(g), {}});
        }
        list.features.push_back({6000, Geometry(), {}});
        const FeatureTable table(list);
        const auto made = mapped(table, *crs::crsFromCode(3035), 0.1);
        QVERIFY(made.has_value());
        for (std::size_t i = 0; i < table.size(); ++i) {
            QCOMPARE(made->table.key(i), table.key(i));
            QCOMPARE(made->table.geometry(i).points.size(), table.geometry(i).points.size());
            QVERIFY(std::equal(made->table.geometry(i).z.begin(), made->table.geometry(i).z.end(),
                               table.geometry(i).z.begin(), table.geometry(i).z.end()));
        }
        QCOMPARE(made->outside, std::size_t{0});
    }

    // Extents as damaged files tell them, and shapes that are all in one place.
    void bearsAnyExtent() {
        const auto from = *crs::crsFromCode(32629), to = *crs::crsFromCode(3035);
        const auto mapper = Mapper::between(from, to, 0.1);
        for (const double far : {1e300, 1e11, double(INFINITY)}) {
            QVERIFY(!mapper->patches({{-far, 0, far, 1}, 1'000'000}));
            QVERIFY(!mapper->patches({{0, 0, 1, far}, 1'000'000}));
        }
        std::vector<Point> images;
        for (const std::size_t count : {5000u, 2'000'000'000u}) {
            const auto patches = mapper->patches({{500000, 6800000, 500000, 6800000}, count});
            QVERIFY(patches.has_value());
            QVERIFY(!patches->map(Geometry::point({500010, 6800000}), images));
            const auto at = patches->map(Point{500000, 6800000});
            const auto way = crs::Transformation::between(from, to);
            QVERIFY(!at || distance(*at, way->forward(Point{500000, 6800000})) < 1e-6);
        }
    }

    // A corner in the way is found out where patches meet it, and left to the exact way.
    void leavesWhatIsNotSmooth() {
        PatchWay way;
        way.exact = [](std::span<const Point> places, std::vector<Point>& lonLat,
                       std::vector<Point>& images) {
            lonLat.assign(places.begin(), places.end());
            images.clear();
            for (const Point p : places) images.push_back({std::abs(p.x - 0.3), p.y});
            return true;
        };
        way.sides = [](std::span<const Point>, double, double) { return PatchWay::Sides{100, 0}; };
        const Patches patches({-10, -10, 10, 10}, 400, way);  // cells of 1
        std::vector<Point> images;
        int left = 0;
        for (double x = -9.5; x < 9.5; x += 0.25) {
            const auto done = patches.map(Geometry::point({x, 1}), images);
            if (!done)
                ++left;
            else
                QVERIFY(std::abs(images.front().x - std::abs(x - 0.3)) < 1e-6);
        }
        QVERIFY2(left > 0 && left < 20, qPrintable(QString::number(left)));
    }
};

QTEST_APPLESS_MAIN(PatchesTest)
#include "patches_test.moc"
