#include <QTest>

#include "core/base/random.h"
#include "core/derive/polygons.h"
#include "core/derive/shapes.h"
#include "core/derive/zonal.h"
#include "core/geometry/measure.h"
#include "core/geometry/relate.h"
#include "core/geometry/wkt_shape.h"
#include "core/globe/ground_measure.h"

using namespace ledge;
using namespace ledge::derive;

namespace {
Geometry shape(const std::string& text) {
    const auto out = shapeFromWkt(text);
    return out ? *out : Geometry();
}
FeatureTable tableOf(std::vector<Field> fields,
                     std::vector<std::pair<Geometry, std::vector<Value>>> rows, int code = 0) {
    FeatureList list;
    list.info.name = "table";
    if (code != 0) list.info.crs = *crs::crsFromCode(code);
    list.info.fields = std::move(fields);
    for (auto& [geometry, values] : rows)
        list.features.push_back({std::int64_t(list.features.size() + 1), geometry, values});
    FeatureTable out(list);
    out.refreshInfo();
    return out;
}
using W = std::int64_t;
using S = std::string;
}  // namespace

// Layers made from layers.
class DeriveFeaturesTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void joinsOneToOne() {
        const auto table = tableOf({{"code", FieldType::Text}, {"n", FieldType::Integer}},
                                   {{{}, {S("a1"), W{1}}},
                                    {{}, {S(" A2"), W{2}}},
                                    {{}, {S("a3"), W{3}}},
                                    {{}, {Value(), W{4}}}});
        const auto other =
            tableOf({{"key", FieldType::Text}, {"n", FieldType::Real}, {"who", FieldType::Text}},
                    {{{}, {S("a1"), 0.5, S("Ness")}},
                     {{}, {S("a2"), 1.5, S("Voe")}},
                     {{}, {S("a1"), 9.5, S("again")}},
                     {{}, {S("zz"), 2.5, S("none")}}});
        Remarks remarks;
        const auto made = joined(table, "code", other, "KEY", {}, remarks);
        QVERIFY2(made, made ? "" : made.error().text().c_str());
        QCOMPARE(made->info.fields.size(), std::size_t(4));
        QCOMPARE(made->info.fields[2].name, S("table_n"));  // beside the one that is there
        QCOMPARE(exactText(made->value(0, 3)), S("Ness"));
        QCOMPARE(exactText(made->value(1, 3)), S("Voe"));  // but for case and blanks
        QVERIFY(made->isMissing(2, 3) && made->isMissing(3, 3));
        QCOMPARE(remarks.size(), std::size_t(4));
        QVERIFY(remarks[0].starts_with("2 rows of table found no match"));
        QVERIFY(remarks[2].find("\" A2\" with \"a2\"") != S::npos);
        const auto none = joined(table, "n", other, "who", {}, remarks);
        QVERIFY(!none && none.error().text().find("look at both columns") != S::npos);
        QVERIFY(!joined(table, "kode", other, "key", {}, remarks));
        // Whole and real numbers that are alike are alike.
        const auto numbers = tableOf({{"x", FieldType::Real}}, {{{}, {1.0}}, {{}, {4.0}}});
        QVERIFY(joined(table, "n", numbers, "x", {}, remarks));
    }

    void countsPointsAsEveryPairDoes() {
        Random random(17);
        std::vector<std::pair<Geometry, std::vector<Value>>> areas, points;
        for (int i = 0; i < 40; ++i) {
            const Point p{double(i % 8) * 10, double(i / 8) * 10};
            areas.push_back(
                {Geometry::polygon({{p, p + Point{9, 1}, p + Point{7, 9}, p}}), {W{i}}});
        }
        for (int i = 0; i < 5000; ++i)
            points.push_back({Geometry::point({random.between(0, 80), random.between(0, 50)}),
                              {i % 7 == 0 ? Value() : Value(random.between(0, 9))}});
        const auto a = tableOf({{"id", FieldType::Integer}}, areas);
        const auto p = tableOf({{"v", FieldType::Real}}, points);
        Remarks remarks;
        const auto made = withPointsWithin(a, p, {"v"}, remarks);
        QVERIFY(made);
        for (std::size_t i = 0; i < a.size(); ++i) {
            double count = 0, sum = 0, there = 0;
            for (std::size_t k = 0; k < p.size(); ++k) {
                if (!isInside(a.geometry(i), p.geometry(k).points[0])) continue;
                ++count;
                if (p.isMissing(k, 0)) continue;
                sum += p.number(k, 0), ++there;
            }
            QCOMPARE(made->number(i, 1), count);
            QVERIFY(std::abs(made->number(i, 2) - sum) < 1e-9);
            QVERIFY(std::abs(made->number(i, 3) - sum / there) < 1e-9);
        }
        QVERIFY(remarks.size() == 1 && remarks[0].ends_with("lie in no area"));
        QVERIFY(!withPointsWithin(a, a, {"nothing"}, remarks));
    }

    // A circle's area, wherever it lies and whatever its CRS makes of distances.
    void buffersAreTrue_data() {
        QTest::addColumn<int>("code");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        const auto row = [](int code, double lon, double lat) {
            QTest::newRow(qPrintable(QString("%1 %2 %3").arg(code).arg(lon).arg(lat)))
                << code << lon << lat;
        };
        row(32629, -9, 61.6);
        row(3857, 10, 60);  // where lengths are doubled
        row(4326, 10, 60);
        row(4326, 179.999, 10);
        row(3035, 10, 52);
        row(3031, 40, -89.99);
    }
    void buffersAreTrue() {
        QFETCH(int, code);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto crs = *crs::crsFromCode(code);
        const auto way = *crs::Transformation::between(*crs::crsFromCode(4326), crs);
        const Point at = way.forward(Point{lon, lat});
        Remarks remarks;
        const auto made =
            buffered(tableOf({}, {{Geometry::point(at), {}}}, code), 1000, false, 360, remarks);
        QVERIFY2(made, made ? "" : made.error().text().c_str());
        const double area = globe::GroundMeasure(crs).area(made->geometry(0));
        // A regular polygon of 360 corners within the circle.
        const double wanted = 180 * 1e6 * std::sin(2 * M_PI / 360);
        QVERIFY2(std::abs(area / wanted - 1) < 2e-5,
                 qPrintable(QString::number(area / wanted, 'f', 7)));
    }
    void buffersGrowShrinkAndVanish() {
        Remarks remarks;
        const auto square = tableOf({}, {{shape("POLYGON((0 0, 100 0, 100 100, 0 100))"), {}},
                                         {shape("POLYGON((0 0, 5 0, 5 5, 0 5))"), {}},
                                         {shape("LINESTRING(0 0, 100 0)"), {}},
                                         {{}, {}}});
        const auto smaller = buffered(square, -10, true, 48, remarks);
        QVERIFY(std::abs(planarArea(smaller->geometry(0)) - 6400) < 1e-6);
        QVERIFY(smaller->geometry(1).isEmpty());
        QVERIFY(!remarks.empty());
        const auto larger = buffered(square, 10, true, 720, remarks);
        QVERIFY(std::abs(planarArea(larger->geometry(0)) - (14000 + M_PI * 100)) < 0.1);
        QVERIFY(std::abs(planarArea(larger->geometry(2)) - (2000 + M_PI * 100)) < 0.1);
        QVERIFY(larger->geometry(3).isEmpty());
        QCOMPARE(larger->info.geometry, GeometryType::Polygon);
        // Rings that cross themselves are no reason to fall over.
        const auto bow = tableOf({}, {{shape("POLYGON((0 0, 10 10, 10 0, 0 10))"), {}}});
        QVERIFY(buffered(bow, 1, true, 48, remarks));
        QVERIFY(buffered(bow, -1, true, 48, remarks));
    }

    void cutsWhatLiesInside() {
        const auto areas = tableOf({}, {{shape("POLYGON((0 0, 10 0, 10 10, 0 10))"), {}},
                                        {shape("POLYGON((10 0, 20 0, 20 10, 10 10))"), {}}});
        const auto things = tableOf({{"n", FieldType::Integer}},
                                    {{shape("LINESTRING(-5 5, 25 5)"), {W{1}}},
                                     {shape("POLYGON((5 5, 15 5, 15 15, 5 15))"), {W{2}}},
                                     {shape("MULTIPOINT(1 1, 50 50)"), {W{3}}},
                                     {shape("POINT(50 50)"), {W{4}}},
                                     {shape("LINESTRING(-5 -5, 5 15, 15 -5)"), {W{5}}}});
        Remarks remarks;
        const auto made = clippedBy(things, areas, remarks);
        QVERIFY(made);
        QCOMPARE(made->size(), std::size_t(4));
        QVERIFY(std::abs(planarLength(made->geometry(0)) - 20) < 1e-9);
        QVERIFY(std::abs(planarArea(made->geometry(1)) - 50) < 1e-9);
        QCOMPARE(made->geometry(2).points.size(), std::size_t(1));
        QCOMPARE(made->geometry(3).partCount(), std::size_t(2));  // up on one side, down the other
        QCOMPARE(made->key(3), FeatureKey(5));
    }
    void dissolvesAreas() {
        std::vector<std::pair<Geometry, std::vector<Value>>> rows;
        for (int i = 0; i < 100; ++i) {
            const double x = i % 10, y = i / 10;
            rows.push_back({Geometry::polygon({{{x, y}, {x + 1, y}, {x + 1, y + 1}, {x, y + 1}}}),
                            {x < 5 ? Value(S("west")) : Value(S("east")), W{i}}});
        }
        const auto table = tableOf({{"side", FieldType::Text}, {"n", FieldType::Integer}}, rows);
        Remarks remarks;
        const auto made = dissolved(table, "side", remarks);
        QVERIFY(made && made->size() == 2);
        for (std::size_t i = 0; i < 2; ++i) {
            QVERIFY(std::abs(planarArea(made->geometry(i)) - 50) < 1e-9);
            QVERIFY(std::abs(planarLength(made->geometry(i)) - 30) < 1e-9);
            QCOMPARE(made->number(i, 1), 50.0);
        }
        QCOMPARE(made->number(0, 2) + made->number(1, 2), 4950.0);
        const auto all = dissolved(table, "", remarks);
        QVERIFY(all && all->size() == 1 && std::abs(planarArea(all->geometry(0)) - 100) < 1e-9);
        QVERIFY(!dissolved(table, "nothing", remarks));
    }
    void reshapes() {
        const auto table =
            tableOf({}, {{shape("POLYGON((0 0, 10 0, 10 10, 0 10), (1 1, 2 1, 2 2, 1 2))"), {}},
                         {shape("LINESTRING(0 0, 4 0, 4 4)"), {}},
                         {shape("POINT(3 3)"), {}}});
        Remarks remarks;
        const auto centres = reshaped(table, NewShape::Centroid, remarks);
        QVERIFY(distance(centres->geometry(0).points[0],
                         {(1000 / 2.0 - 1.5) / 99, (1000 / 2.0 - 1.5) / 99}) < 1e-9);
        QCOMPARE(centres->geometry(1).points[0], (Point{3, 1}));
        QVERIFY(remarks.empty());
        const auto lines = reshaped(table, NewShape::Outline, remarks);
        QCOMPARE(planarLength(lines->geometry(0)), 44.0);
        QVERIFY(lines->geometry(2).isEmpty() && remarks.size() == 1);
        const auto area = reshaped(table, NewShape::Area, remarks);
        QCOMPARE(planarArea(area->geometry(1)), 8.0);
        Random random(3);
        std::vector<Point> cloud;
        for (int i = 0; i < 500; ++i) cloud.push_back({random.between(0, 9), random.between(0, 9)});
        const Geometry hull = hullOf(Geometry::line(cloud));
        const PreparedShape around(hull);
        for (const Point p : cloud) QVERIFY(around.locate(p) != Location::Outside);
        for (std::size_t i = 2; i < hull.points.size(); ++i)
            QVERIFY(sideOf(hull.points[i - 2], hull.points[i - 1], hull.points[i]) > 0);
    }
    void scattersPoints() {
        const auto areas = tableOf({{"name", FieldType::Text}},
                                   {{shape("POLYGON((0 0, 10 0, 0 10))"), {S("a")}},
                                    {shape("POLYGON((20 0, 30 0, 30 10, 20 10))"), {S("b")}}});
        const auto one = scattered(areas, 500, 0, 7), same = scattered(areas, 500, 0, 7),
                   other = scattered(areas, 500, 0, 8);
        QVERIFY(one && one->size() == 1000);
        for (std::size_t i = 0; i < one->size(); ++i) {
            QVERIFY(isInside(areas.geometry(i / 500), one->geometry(i).points[0]));
            QCOMPARE(one->geometry(i).points[0], same->geometry(i).points[0]);
        }
        QVERIFY(!(one->geometry(0).points[0] == other->geometry(0).points[0]));
        const auto lattice = scattered(areas, 0, 2.5, 1);
        QVERIFY(lattice);
        for (const FeatureView f : *lattice) QCOMPARE(std::fmod(f.geometry.points[0].x, 2.5), 0.0);
        QVERIFY(!scattered(areas, 0, 0, 1));
        QVERIFY(!scattered(areas, 0, 1e-6, 1));
    }
    void readsRasters() {
        // A plane; its mean under an area is its value at the area's centre.
        RasterInfo info;
        info.toWorld = {10, 0, 500000, 0, -10, 6801000};
        info.crs = *crs::crsFromCode(32629);
        Grid<float> cells(100, 100);
        for (std::size_t r = 0; r < 100; ++r)
            for (std::size_t c = 0; c < 100; ++c)
                cells(r, c) = r == 0 ? std::numeric_limits<float>::quiet_NaN() : float(c + 2 * r);
        info.width = info.height = 100;
        info.bands = {{}};
        const MemoryRaster raster(info, std::move(cells));
        const auto areas = tableOf({},
                                   {{shape("POLYGON((500100 6800100, 500300 6800100, 500300 "
                                           "6800500, 500100 6800500))"),
                                     {}},
                                    {shape("POLYGON((500101 6800101, 500102 6800101, 500102 "
                                           "6800102, 500101 6800102))"),
                                     {}},
                                    {shape("POLYGON((0 0, 1 0, 1 1, 0 1))"), {}}},
                                   32629);
        Remarks remarks;
        const auto made = withZonal(areas, raster, 0, "dem_", remarks);
        QVERIFY2(made, made ? "" : made.error().text().c_str());
        const auto at = [&](const char* name, std::size_t row) {
            return made->number(row, std::size_t(made->fieldIndex(name)));
        };
        QCOMPARE(at("dem_count", 0), 20.0 * 40);
        // Columns 10 to 29, rows 50 to 89.
        QVERIFY(std::abs(at("dem_mean", 0) - (19.5 + 2 * 69.5)) < 1e-9);
        QVERIFY(std::abs(at("dem_median", 0) - (19.5 + 2 * 69.5)) < 0.6);
        QCOMPARE(at("dem_min", 0), 10 + 2 * 50.0);
        QCOMPARE(at("dem_max", 0), 29 + 2 * 89.0);
        QCOMPARE(at("dem_count", 1), 0.0);  // no centre in it
        QVERIFY(std::isnan(at("dem_mean", 1)));
        QVERIFY(remarks.size() == 1 && remarks[0].starts_with("2 areas"));
        // In another CRS nearly the same cells.
        const auto points =
            tableOf({}, {{shape("POINT(500105 6800105)"), {}}, {shape("POINT(0 0)"), {}}}, 32629);
        const auto values = withCellValues(points, raster, 0, "dem", remarks);
        QCOMPARE(values->number(0, 0), 10 + 2 * 89.0);
        QVERIFY(values->isMissing(1, 0));
        QVERIFY(!withZonal(tableOf({}, {{shape("POINT(0 0)"), {}}}), raster, 0, "", remarks));
    }
    void makesPointsOfColumns() {
        const auto table =
            tableOf({{"x", FieldType::Real}, {"Y", FieldType::Integer}, {"t", FieldType::Text}},
                    {{{}, {1.5, W{2}, S("a")}}, {{}, {Value(), W{3}, S("b")}}});
        Remarks remarks;
        const auto made = pointsFrom(table, "x", "y", nullptr, remarks);
        QVERIFY(made);
        QCOMPARE(made->geometry(0).points[0], (Point{1.5, 2}));
        QVERIFY(made->geometry(1).isEmpty() && remarks.size() == 1);
        QVERIFY(!pointsFrom(table, "x", "t", nullptr, remarks));
    }
    void stops() {
        std::stop_source stop;
        stop.request_stop();
        const Progress progress{stop.get_token(), {}};
        const auto table = tableOf({{"n", FieldType::Integer}},
                                   {{shape("POLYGON((0 0, 1 0, 1 1, 0 1))"), {W{1}}}});
        Remarks remarks;
        QVERIFY(!withPointsWithin(table, table, {}, remarks, progress));
        QVERIFY(!withNearest(table, table, {}, 10, remarks, progress));
        QVERIFY(!dissolved(table, "n", remarks, progress));
        QVERIFY(!scattered(table, 5, 0, 1, progress));
    }
};

QTEST_APPLESS_MAIN(DeriveFeaturesTest)
#include "derive_features_test.moc"
