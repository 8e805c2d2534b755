#include <QTemporaryDir>
#include <QTest>

#include "core/crs/catalogue.h"
#include "core/crs/transformation.h"
#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "session/crs_checks.h"
#include "session/crs_shelf.h"
#include "session/measurement.h"
#include "support/shift_grid_file.h"

using namespace ledge;
using namespace ledge::session;

namespace {
const Box kSkerravoe{-10.95, 61.5, -10.45, 61.7};  // degrees

Box inCrs(int code, const Box& lonLat) {
    return crs::Transformation::between(*crs::crsFromCode(4326), *crs::crsFromCode(code))
        ->forward(lonLat);
}
}  // namespace

class CrsToolsTest : public QObject {
    Q_OBJECT

private slots:
    void noticesDoubtfulCrs_data() {
        using Kind = CrsConcern::Kind;
        QTest::addColumn<int>("code");
        QTest::addColumn<Box>("extent");
        QTest::addColumn<int>("kind");  // -1: none
        QTest::newRow("right") << 32629 << inCrs(32629, kSkerravoe) << -1;
        QTest::newRow("degrees") << 4326 << kSkerravoe << -1;
        QTest::newRow("undeclared") << 0 << kSkerravoe << int(Kind::Undeclared);
        QTest::newRow("metres called degrees")
            << 4326 << inCrs(32629, kSkerravoe) << int(Kind::TooLargeForDegrees);
        QTest::newRow("degrees called metres")
            << 32629 << kSkerravoe << int(Kind::LooksLikeDegrees);
        QTest::newRow("another country")
            << 2056 << inCrs(32629, kSkerravoe) << int(Kind::OutsideArea);
        QTest::newRow("nothing in it") << 32629 << Box{} << -1;
    }
    void noticesDoubtfulCrs() {
        QFETCH(int, code);
        QFETCH(Box, extent);
        QFETCH(int, kind);
        const auto crs = code ? *crs::crsFromCode(code) : nullptr;
        const auto concern = crsConcern(crs, extent);
        QCOMPARE(concern ? int(concern->kind) : -1, kind);
        if (concern) QVERIFY(!concern->badge.empty() && concern->text.size() > 20);
    }

    void guessesWhereDataWouldFit() {
        const auto guesses = guessCrs(inCrs(32628, {-10.9, 61.52, -10.6, 61.66}), kSkerravoe,
                                      *crs::crsFromCode(32629), std::vector<int>{32629, 3034});
        QVERIFY(!guesses.empty());
        QCOMPARE(guesses.front().code, 32628);
        QVERIFY(guesses.front().share > 0.9);
        for (const auto& guess : guesses) QVERIFY(guess.code != 32629);
        QVERIFY(guessCrs({0, 0, 1, 1}, {}, nullptr, {}).empty());
        const auto degrees = guessCrs(kSkerravoe, kSkerravoe, *crs::crsFromCode(32629), {});
        QCOMPARE(degrees.front().code, 4326);
    }

    void namesAreasInShort() {
        QCOMPARE(areaInShort("Europe - onshore: Albania; Andorra"),
                 std::string("Europe - onshore"));
        QCOMPARE(areaInShort("Iceland"), std::string("Iceland"));
        const std::string longName =
            areaInShort(std::string(60, 'a') + " é" + std::string(60, 'b'));
        QVERIFY(longName.size() < 90 && longName.ends_with(" …"));
        QVERIFY(areaInShort(std::string(200, 'x')).size() < 90);
        for (const auto* entry : crs::Catalogue::shipped().find("wgs 84", 500)) {
            const auto text = areaInShort(entry->areaName);
            QCOMPARE(QString::fromStdString(text).toStdString(), text);  // still whole letters
        }
    }

    void saysWhatAnotherCrsChanges() {
        const auto change =
            crsChange(*crs::crsFromCode(32629), *crs::crsFromCode(3857), {-10.7, 61.6});
        QString all;
        for (const auto& line : change.lines) all += QString::fromStdString(line) + "\n";
        QVERIFY2(all.contains("× 2.09") || all.contains("× 2.1"), qPrintable(all));
        QVERIFY(all.contains("Areas there: +3"));
        const auto away =
            crsChange(*crs::crsFromCode(32629), *crs::crsFromCode(2056), {-10.7, 61.6});
        QVERIFY(QString::fromStdString(away.warning).contains("Switzerland"));
        const auto datum = crsChange(*crs::crsFromCode(32629), *crs::crsFromCode(23029), {-8, 42});
        all.clear();
        for (const auto& line : datum.lines) all += QString::fromStdString(line) + "\n";
        QVERIFY2(all.contains("Between the datums") && all.contains("±"), qPrintable(all));
    }

    void measuresBothWays() {
        const auto utm = *crs::crsFromCode(32629);
        // A kilometre east on the central meridian: the grid is 0.9996 of the ground.
        const std::vector<Point> path{{500000, 6800000}, {501000, 6800000}};
        const auto m = measure(utm, path, false);
        QCOMPARE(m.planarLength, 1000.0);
        QVERIFY(std::abs(m.ellipsoidalLength - 1000 / 0.9996) < 0.001);
        QVERIFY(std::abs(m.scaleFactor - 0.9996) < 1e-6);
        QVERIFY(std::abs(m.gridBearing - 90) < 1e-9);
        QVERIFY(std::abs(m.bearing - 90) < 0.02);
        const std::vector<Point> square{
            {499500, 6799500}, {500500, 6799500}, {500500, 6800500}, {499500, 6800500}};
        const auto area = measure(utm, square, true);
        QCOMPARE(area.planarArea, 1e6);
        QVERIFY(std::abs(area.ellipsoidalArea - 1e6 / (0.9996 * 0.9996)) < 3);
        QVERIFY(std::abs(area.ellipsoidalLength - 4000 / 0.9996) < 0.01);
        // Without a CRS there is a plane only; in degrees an ellipsoid only.
        const auto local = measure(nullptr, path, false);
        QVERIFY(std::isnan(local.ellipsoidalLength) && local.planarLength == 1000);
        const auto degrees =
            measure(*crs::crsFromCode(4326), std::vector<Point>{{0, 0}, {1, 0}}, false);
        QVERIFY(std::isnan(degrees.planarLength));
        QVERIFY(std::abs(degrees.ellipsoidalLength - 111319.4908) < 0.001);
        QVERIFY(std::isnan(measure(utm, std::vector<Point>{{0, 0}}, false).planarLength));
    }

    void countsFeetAsFeet() {
        // A grid in US survey feet: planar lengths are metres all the same.
        const auto texas = *crs::crsFromCode(2278);
        const auto m =
            measure(texas, std::vector<Point>{{2000000, 13700000}, {2000000, 13710000}}, false);
        QVERIFY(std::abs(m.planarLength - 3048.006096) < 1e-3);
        QVERIFY(std::abs(m.ellipsoidalLength / m.planarLength - 1) < 2e-4);
    }

    void drawsTheShortestWayAsACurve() {
        const auto mercator = *crs::crsFromCode(3395);
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), mercator);
        const std::vector<Point> ends{way->forward(Point{-60, 50}), way->forward(Point{10, 50})};
        const auto course = trueCourse(mercator, ends, false);
        QCOMPARE(course.lines.size(), std::size_t{1});
        QVERIFY(course.lines[0].size() > 50);
        double top = ends[0].y;
        for (const Point p : course.lines[0]) top = std::max(top, p.y);
        QVERIFY(top > ends[0].y + 500000);  // it bends to the north
        QCOMPARE(trueCourse(nullptr, ends, true).lines[0].size(), std::size_t{3});
        // Over the antimeridian it leaves the map on one side and comes in on the other.
        const std::vector<Point> far{way->forward(Point{170, 20}), way->forward(Point{-160, 20})};
        const auto torn = trueCourse(mercator, far, false);
        QCOMPARE(torn.lines.size(), std::size_t{2});
        const double edge = way->forward(Point{180, 0}).x;
        QVERIFY(std::abs(torn.lines[0].back().x - edge) < 1);
        QVERIFY(std::abs(torn.lines[1].front().x + edge) < 1);
        QVERIFY(std::abs(torn.lines[0].back().y - torn.lines[1].front().y) < 1);
        // An area around a pole reaches to the map's end.
        std::vector<Point> around;
        for (const double lon : {-150.0, -30.0, 90.0})
            around.push_back(way->forward(Point{lon, 60}));
        const auto cap = trueCourse(mercator, around, true);
        Box box;
        for (const Point p : cap.area.points) box.add(p);
        QVERIFY(box.width() > 2 * edge - 10);
        QVERIFY(std::abs(way->inverse(Point{0, box.yMax}).y - 85.05) < 0.01);
    }

    void keepsAMeasurementAsFeatures() {
        const auto utm = *crs::crsFromCode(32629);
        const std::vector<Point> ring{{0, 0}, {0, 100}, {100, 100}};
        const auto table = measurementTable(utm, ring, measure(utm, ring, true));
        QCOMPARE(table.info.geometry, GeometryType::Polygon);
        QCOMPARE(table.geometry(0).points.size(), std::size_t{4});
        QVERIFY(table.fieldIndex("area_m2") >= 0);
    }

    void keepsFavouritesInAFile() {
        QTemporaryDir folder;
        const auto file = std::filesystem::path(folder.path().toStdString()) / "deep" / "crs.json";
        CrsShelf shelf(file);
        QVERIFY(shelf.setFavourite("EPSG:32629", true).has_value());
        for (int i = 0; i < 12; ++i)
            QVERIFY(shelf.addRecent("EPSG:" + std::to_string(32601 + i)).has_value());
        const CrsShelf again(file);
        QVERIFY(again.isFavourite("EPSG:32629"));
        QCOMPARE(again.recent().size(), std::size_t{8});
        QCOMPARE(again.recent().front(), std::string("EPSG:32612"));
        QVERIFY(shelf.setFavourite("EPSG:32629", false).has_value());
        QVERIFY(!CrsShelf(file).isFavourite("EPSG:32629"));
        QFile damaged(QString::fromStdString(file.string()));
        QVERIFY(damaged.open(QIODevice::WriteOnly));
        damaged.write("{ not json");
        damaged.close();
        QVERIFY(CrsShelf(file).recent().empty());
    }

    void bringsDataOntoTheMapByAGridOfTheirOwn() {
        QTemporaryDir folder;
        const auto at = [&](const char* name) {
            return std::filesystem::path(folder.path().toStdString()) / name;
        };
        QVERIFY(
            io::writeText(at("shifts.gsb"), test::shiftGridFile(std::endian::little)).has_value());
        FeatureList table;
        table.info.name = "marks";
        table.info.crs = *crs::crsFromCode(4230);
        table.info.geometry = GeometryType::Point;
        table.features.push_back({1, Geometry::point({-11, 62}), {}});
        QVERIFY(io::writeTable(table, at("marks.gpkg"), {}).has_value());
        doc::SourceRef source;
        source.name = "marks";
        source.path = at("marks.gpkg");
        const SourceCache cache;
        const auto wgs84 = *crs::crsFromCode(4326);
        const auto without = cache.features(source, wgs84);
        source.shiftGrid = doc::ShiftGrid{at("shifts.gsb"), 4326};
        const auto with = cache.features(source, wgs84);
        QVERIFY(without.has_value() && with.has_value());
        const Point moved = (*with)->table->geometry(0).points[0];
        QVERIFY(distance(moved, {-11 - 4.0 / 3600, 62 + 2.0 / 3600}) < 1e-9);
        QVERIFY(distance((*without)->table->geometry(0).points[0], moved) > 1e-5);
        QVERIFY(!crsConcern(cache.crsOf(source), {-10.9, 61.1, -10.1, 61.9}));
        const auto far = crsConcern(cache.crsOf(source), {2, 48, 3, 49});
        QVERIFY(far && far->kind == CrsConcern::Kind::OutsideGrid);
        source.shiftGrid->path = at("missing.gsb");
        QVERIFY(!cache.features(source, wgs84));
        QVERIFY(cache.problem(source)->text().find("missing.gsb") != std::string::npos);
    }
};

QTEST_GUILESS_MAIN(CrsToolsTest)
#include "crs_tools_test.moc"
