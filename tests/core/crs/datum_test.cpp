#include <QTest>

#include "core/crs/datum_choices.h"
#include "core/crs/datum_operations.h"
#include "core/crs/datum_steps.h"
#include "core/crs/shift_grid.h"
#include "core/crs/transformation.h"
#include "support/reference_table.h"

using namespace ledge;
using namespace ledge::crs;
using ledge::test::number;
using ledge::test::Row;

namespace {
Helmert listed(const QString& text) {
    if (text == "null") return {};
    const auto v = text.split(' ');
    return {v[0].toDouble(), v[1].toDouble(), v[2].toDouble(), v[3].toDouble(),
            v[4].toDouble(), v[5].toDouble(), v[6].toDouble()};
}

DatumOperation shiftOf(const Helmert& shift) {
    DatumOperation o;
    o.name = "as listed";
    o.kind = DatumOperation::Kind::GeocentricShift;
    o.shift = shift;
    return o;
}

std::shared_ptr<const ShiftGrid> slopingGrid() {
    // One degree square, 0.1 degree apart; shifts that a bilinear surface holds exactly.
    ShiftGrid::SubGrid coarse{"coarse", {-11, 61, -10, 62}, 0.1, 0.1, 11, 11, {}};
    for (int r = 0; r < 11; ++r)
        for (int c = 0; c < 11; ++c) coarse.shifts.push_back({0.001 * c, 0.002 * r});
    ShiftGrid::SubGrid dense{"dense", {-10.5, 61.5, -10.3, 61.7}, 0.05, 0.05, 5, 5, {}};
    dense.shifts.assign(25, {0.5, 0.25});
    return std::make_shared<ShiftGrid>(*ShiftGrid::make("test", {coarse, dense}));
}
}  // namespace

class DatumTest : public QObject {
    Q_OBJECT

private slots:
    void appliesEachReviewedOperation_data() {
        QTest::addColumn<int>("index");
        const auto& table = points();
        for (std::size_t i = 0; i < table.size(); ++i)
            QTest::addRow("%s #%d", qPrintable(table[i].at("name")), int(i)) << int(i);
    }
    void appliesEachReviewedOperation() {
        QFETCH(int, index);
        const Row& row = points()[static_cast<std::size_t>(index)];
        const auto operations = reviewedOperations();
        const auto found =
            std::find_if(operations.begin(), operations.end(), [&](const DatumOperation& o) {
                return o.name == row.at("name").toStdString();
            });
        QVERIFY(found != operations.end());
        DatumPath path;
        path.steps.push_back({*found, false});
        const auto from = crsFromCode(row.at("from_epsg").toInt());
        const auto to = crsFromCode(row.at("to_epsg").toInt());
        QVERIFY2(from.has_value() && to.has_value(), qPrintable(row.at("from_epsg")));
        QCOMPARE(found->source, (*from)->code);
        const auto way = Transformation::along(*from, *to, path);
        const Point start{number(row, "from_lon"), number(row, "from_lat")};
        const Point end = way->forward(start);
        // Null operations between nearly equal ellipsoids copy what differs by 1e-9 degree.
        const double tolerance = found->kind == DatumOperation::Kind::Null ? 2e-9 : 1e-10;
        QVERIFY2(std::abs(end.x - number(row, "to_lon")) < tolerance &&
                     std::abs(end.y - number(row, "to_lat")) < tolerance,
                 qPrintable(QString("off by %1 %2")
                                .arg(end.x - number(row, "to_lon"))
                                .arg(end.y - number(row, "to_lat"))));
        // Heights do not come back with it: some centimetres at most.
        QVERIFY(distance(way->inverse(end), start) < 1e-6);
    }

    void appliesListedShiftsLiterally_data() {
        QTest::addColumn<int>("index");
        const auto& table = pairs();
        for (std::size_t i = 0; i < table.size(); ++i)
            QTest::addRow("%s to %s #%d", qPrintable(table[i].at("from_epsg")),
                          qPrintable(table[i].at("to_epsg")), int(i))
                << int(i);
    }
    void appliesListedShiftsLiterally() {
        QFETCH(int, index);
        const Row& row = pairs()[static_cast<std::size_t>(index)];
        const auto from = crsFromCode(row.at("from_epsg").toInt());
        const auto to = crsFromCode(row.at("to_epsg").toInt());
        QVERIFY(from.has_value() && to.has_value());
        DatumPath path;
        path.steps.push_back({shiftOf(listed(row.at("from_towgs84"))), false});
        path.steps.push_back({shiftOf(listed(row.at("to_towgs84"))), true});
        const auto way = Transformation::along(*from, *to, path);
        const Point end = way->forward(Point{number(row, "from_x"), number(row, "from_y")});
        const bool isDegrees = (*to)->isGeographic();
        const double tolerance = isDegrees ? 2e-11 : 2e-6 / (*to)->unit.size;
        QVERIFY2(std::abs(end.x - number(row, "to_x")) < tolerance &&
                     std::abs(end.y - number(row, "to_y")) < tolerance,
                 qPrintable(QString("off by %1 %2")
                                .arg(end.x - number(row, "to_x"))
                                .arg(end.y - number(row, "to_y"))));
    }

    void shiftsGeocentricPositionsAsTheTableSays() {
        int pivoted = 0;
        const auto check = [](const DatumOperation& o, Geocentric from, Geocentric to,
                              double tolerance) {
            const Geocentric there = applied(o, from, false), back = applied(o, to, true);
            return std::abs(there.x - to.x) < tolerance && std::abs(there.y - to.y) < tolerance &&
                   std::abs(there.z - to.z) < tolerance &&
                   std::abs(back.x - from.x) < 2 * tolerance &&
                   std::abs(back.y - from.y) < 2 * tolerance &&
                   std::abs(back.z - from.z) < 2 * tolerance;
        };
        for (const Row& row : test::readTable("crs/helmert.csv")) {
            const QString method = row.at("method");
            const double sign = method.contains("coordinate frame") ? -1 : 1;
            DatumOperation o = shiftOf({number(row, "dx"), number(row, "dy"), number(row, "dz"),
                                        sign * number(row, "rx"), sign * number(row, "ry"),
                                        sign * number(row, "rz"), number(row, "ds_ppm")});
            if (method.startsWith("molodensky")) {
                o.kind = DatumOperation::Kind::MolodenskyBadekas;
                o.pivot = {number(row, "px"), number(row, "py"), number(row, "pz")};
                ++pivoted;
            }
            QVERIFY2(check(o, {number(row, "X1_m"), number(row, "Y1_m"), number(row, "Z1_m")},
                           {number(row, "X2_m"), number(row, "Y2_m"), number(row, "Z2_m")}, 2e-8),
                     qPrintable(method));
        }
        QVERIFY(pivoted > 0);
        // The published example about a pivot, in the coordinate frame convention.
        DatumOperation o = shiftOf({-270.933, 115.599, -360.226, 5.266, 1.238, -2.381, -5.109});
        o.kind = DatumOperation::Kind::MolodenskyBadekas;
        o.pivot = {2464351.59, -5783466.61, 974809.81};
        QVERIFY(check(o, {2550408.96, -5749912.26, 1054891.11},
                      {2550138.4553076391, -5749799.8703081697, 1054530.8149993703}, 2e-8));
    }

    void choosesTheOperationOfThePlace() {
        const CrsPtr ed50 = *crsFromCode(4230), wgs84 = *crsFromCode(4326);
        const auto north = datumPaths(*ed50, *wgs84, {2, 60, 3, 61});
        QVERIFY(!north.front().isUnknown);
        QVERIFY(!north.front().isOutsideArea);
        QVERIFY(north.size() > 2);
        // Better ones come first among those meant for the place.
        double last = 0;
        for (const DatumPath& path : north) {
            if (path.isOutsideArea || path.isUnknown) break;
            QVERIFY(path.accuracyMetres >= last);
            last = path.accuracyMetres;
        }
        QVERIFY(north.back().isUnknown);
    }

    void goesOverADatumOfToday() {
        // The Netherlands to Belgium: no operation leads straight.
        const auto way = Transformation::between(*crsFromCode(28992), *crsFromCode(31370));
        QVERIFY(way.has_value());
        QCOMPARE(way->datumPath().steps.size(), std::size_t{2});
        QVERIFY(way->datumPath().accuracyMetres < 5);
        // A point on the border, from the published positions of both grids' origins.
        const Point amersfoort = Transformation::between(*crsFromCode(28992), *crsFromCode(4326))
                                     ->forward(Point{155000, 463000});
        QVERIFY(std::abs(amersfoort.x - 5.387206) < 2e-5 &&
                std::abs(amersfoort.y - 52.155174) < 2e-5);
    }

    void saysWhatItKnows() {
        const auto same = Transformation::between(*crsFromCode(4326), *crsFromCode(32629));
        QCOMPARE(same->datumOperation(), std::string("same datum"));
        const auto null = Transformation::between(*crsFromCode(4258), *crsFromCode(4326));
        QVERIFY(null->datumOperation().find("±1 m") != std::string::npos);
        // Positions are copied exactly there.
        QCOMPARE(null->forward(Point{10.25, 61.5}), (Point{10.25, 61.5}));
        Crs own = **crsFromCode(4326);
        own.code = own.geographicCode = 0;
        own.datumName = "Skerravoe 1911";
        own.ellipsoid = {"own", 6377000, 299};
        own.toWgs84.reset();
        const auto copied = Transformation::between(std::make_shared<Crs>(own), *crsFromCode(4326));
        QVERIFY(copied->datumPath().isUnknown);
        QVERIFY(copied->datumOperation().find("taken as they are") != std::string::npos);
        own.toWgs84 = Helmert{100, -50, 30, 0, 0, 0, 0};
        const auto literal =
            Transformation::between(std::make_shared<Crs>(own), *crsFromCode(4326));
        QVERIFY(!literal->datumPath().isUnknown);
        QVERIFY(literal->datumOperation().find("not reviewed") != std::string::npos);
    }

    void doesWhatWasChosen() {
        const CrsPtr from = *crsFromCode(23030), to = *crsFromCode(4326);
        const Box france{2, 48, 2, 48};
        const auto best = datumPaths(*from, *to, france).front();
        QVERIFY(!best.isChosen);
        // By code, by name, by the whole text of a path; in both directions.
        for (const std::string choice : {"1133", "EPSG:1133", "ED50 to WGS 84 (1)"}) {
            const auto led = withOperation(from, to, choice);
            QVERIFY2(led.has_value(), choice.c_str());
            const auto path = datumPaths(**led, *to, france).front();
            QVERIFY(path.isChosen);
            QCOMPARE(path.steps.size(), std::size_t{1});
            QCOMPARE(path.steps[0].operation.code, 1133);
            QVERIFY(path.text().find("chosen") != std::string::npos);
            const auto back = datumPaths(*to, **led, france).front();
            QVERIFY(back.isChosen && back.steps[0].isInverse);
        }
        QVERIFY(choiceText(best) != "1133");
        const auto plain = withOperation(from, to, "none");
        const auto way = Transformation::between(*plain, to);
        QVERIFY(way->datumPath().isUnknown);
        const auto geographic = Transformation::between(*crsFromCode(4230), to);
        QVERIFY(!geographic->datumPath().isUnknown);
        // What does not lead there is refused with what does.
        const auto wrong = withOperation(from, to, "1195");
        QCOMPARE(wrong.error().code, ErrorCode::NotFound);
        QVERIFY(wrong.error().mend.find("1133") != std::string::npos);
        QCOMPARE(withOperation(*crsFromCode(32629), to, "1133").error().code,
                 ErrorCode::InvalidArgument);
        // The place still decides between the other datums.
        QVERIFY(!datumPaths(**withOperation(from, to, "1133"), **crsFromCode(4277), france)
                     .front()
                     .isChosen);
    }

    void trustsNoListedRotations() {
        // Every shipped definition brings a translation or nothing.
        for (const int code : {28992, 31370, 24200, 5018})
            if (const auto crs = crsFromCode(code); (*crs)->toWgs84)
                QCOMPARE((*crs)->toWgs84->rx, 0.0);
    }

    void interpolatesGrids() {
        const auto grid = slopingGrid();
        const Point at{-10.87, 61.23};
        const Point moved = grid->forward(at);
        QVERIFY(std::abs(moved.x - at.x - 0.0013) < 1e-12);
        QVERIFY(std::abs(moved.y - at.y - 0.0046) < 1e-12);
        QVERIFY(distance(grid->inverse(moved), at) < 1e-12);
        QCOMPARE(grid->forward(Point{-10.4, 61.6}), (Point{-9.9, 61.85}));  // the denser grid
        QVERIFY(!grid->forward(Point{0, 0}).isFinite());
    }

    void usesAGridOfTheUsersOwn() {
        DatumOperation o;
        o.name = "test grid";
        o.source = 4230, o.target = 4326;
        o.kind = DatumOperation::Kind::Grid;
        o.grid = slopingGrid();
        o.area = {"", o.grid->box()};
        o.accuracyMetres = 0.5;
        const auto way =
            Transformation::between(*crsFromCode(4230), *crsFromCode(4326), {}, std::span(&o, 1));
        // Its area does not cover all of Europe, but the place does.
        const auto here = Transformation::between(*crsFromCode(4230), *crsFromCode(4326),
                                                  {-10.9, 61.1, -10.8, 61.2}, std::span(&o, 1));
        QCOMPARE(here->datumPath().steps.front().operation.kind, DatumOperation::Kind::Grid);
        QVERIFY(way.has_value());
        std::array<Point, 2> points{Point{-10.87, 61.23}, Point{20, 20}};
        here->forward(points);
        QVERIFY(std::abs(points[0].x + 10.87 - 0.0013) < 1e-12);
        QVERIFY(!points[1].isFinite());  // not covered; the other is unaffected
    }

    void refusesGridsOfTheWrongSize() {
        ShiftGrid::SubGrid grid{"g", {0, 0, 1, 1}, 0.5, 0.5, 3, 3, std::vector<Point>(8)};
        QVERIFY(!ShiftGrid::make("x", {grid}));
        QVERIFY(!ShiftGrid::make("x", {}));
    }

private:
    static const std::vector<Row>& points() {
        static const auto table = test::readTable("crs/datum-operation-points.csv");
        return table;
    }
    static const std::vector<Row>& pairs() {
        static const auto table = test::readTable("crs/datum-pairs.csv");
        return table;
    }
};

QTEST_APPLESS_MAIN(DatumTest)
#include "datum_test.moc"
