#include <QTemporaryDir>
#include <QTest>
#include <fstream>

#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/geometry/measure.h"
#include "core/geometry/shaping.h"
#include "core/geometry/wkt_shape.h"
#include "document/edits/edit_table.h"
#include "document/edits/layer_edits.h"
#include "document/json/project_json.h"
#include "session/asking.h"
#include "session/column_facts.h"
#include "session/measurement.h"
#include "session/shaping.h"
#include "session/table_replacing.h"
#include "session/table_saving.h"

using namespace ledge;
using namespace ledge::session;
using doc::Shared;

/// Features drawn and changed by hand, as edits of a document over a file: what the window does,
/// without a window.
class HandEditsTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    SourceCache m_cache;
    doc::Document m_document;
    doc::Id m_source = 0;
    const crs::CrsPtr m_utm = *crs::crsFromCode(32629);

    const doc::SourceRef& source() const { return *m_document.source(m_source); }
    FeatureTable table() const {
        const auto read = m_cache.table(source());
        return read ? **read : FeatureTable();
    }
    // Does edits as the window does, through the named edit.
    bool perform(const Result<std::string>& edits, const char* what = "By hand") {
        if (!edits) {
            qWarning("%s", edits.error().text().c_str());
            return false;
        }
        const auto done = doc::applied(
            m_document, "table-edits",
            {{"source", "#" + std::to_string(m_source)}, {"what", what}, {"edits", *edits}});
        if (!done) {
            qWarning("%s", done.error().text().c_str());
            return false;
        }
        m_document = done->document;
        return true;
    }
    static QString wkt(const FeatureTable& table, std::size_t row) {
        return QString::fromStdString(wktOf(table.geometry(row)));
    }

private Q_SLOTS:
    void init() {
        FeatureList list;
        list.info.name = "crofts";
        list.info.crs = m_utm;
        list.info.geometry = GeometryType::Polygon;
        list.info.fields = {
            {"name", FieldType::Text}, {"sheep", FieldType::Integer}, {"at", FieldType::Date}};
        const auto add = [&](FeatureKey key, const char* shape, const char* name, int sheep) {
            list.features.push_back(
                {key,
                 *shapeFromWkt(shape),
                 {std::string(name), std::int64_t{sheep}, Value(*parseDate("2026-11-27"))}});
        };
        add(1,
            "POLYGON ((500000 6800000, 500100 6800000, 500100 6800100, 500000 6800100, 500000 "
            "6800000))",
            "Ness", 12);
        add(2,
            "POLYGON ((500100 6800000, 500200 6800000, 500200 6800100, 500100 6800100, 500100 "
            "6800000))",
            "Voe", 20);
        add(5,
            "MULTIPOLYGON (((500300 6800000, 500310 6800000, 500300 6800010, 500300 6800000)), "
            "((500320 6800000, 500340 6800000, 500320 6800020, 500320 6800000)))",
            "Isle", 3);
        const std::filesystem::path path = m_dir.path().toStdString() + "/crofts.gpkg";
        QVERIFY(io::writeTable(FeatureTable(std::move(list)), path, {}));
        doc::SourceRef ref;
        ref.name = "crofts";
        ref.path = path;
        auto [document, id] = doc::addSource({}, ref);
        m_document = document;
        m_source = id;
        QCOMPARE(table().size(), std::size_t{3});
    }

    void drawsAFeatureFromAnotherCrs() {
        // Drawn on a map of degrees, kept in metres.
        const auto degrees = *crs::crsFromCode(4326);
        const Geometry drawn =
            Geometry::polygon({{{-9, 61.33}, {-8.999, 61.33}, {-8.999, 61.331}}});
        QVERIFY(perform(addingEdits(source(), m_cache, drawn, degrees)));
        QCOMPARE(table().size(), std::size_t{4});
        QCOMPARE(table().key(3), FeatureKey{6});
        QVERIFY(std::abs(table().box(3).xMin - 500000) < 0.01);
        QVERIFY(table().isMissing(3, 0));
        const auto wrong = addingEdits(source(), m_cache, Geometry::point({-9, 61}), degrees);
        QVERIFY(!wrong && wrong.error().mend.find("new one") != std::string::npos);
        const auto beyond =
            addingEdits(source(), m_cache, Geometry::polygon({{{171, 1}, {172, 1}, {172, 2}}}),
                        *crs::crsFromCode(4326));
        QVERIFY(!beyond || table().size() == 4);
    }
    // A vertex goes before a side that is nearer, and the shape in hand before neither.
    void snapsToVerticesAndSides() {
        doc::Document d = m_document;
        doc::Layer layer;
        layer.source = m_source;
        layer.content = doc::VectorLayer{};
        d = doc::addLayer(std::move(d), layer).first;
        const auto at = [&](Point p, double reach, std::optional<InHand> hand = {}) {
            return snappedTo(d, m_cache, m_utm, p, reach, hand);
        };
        QCOMPARE(*at({500003, 6799998}, 8), (Point{500000, 6800000}));
        QCOMPARE(*at({500050, 6799996}, 8), (Point{500050, 6800000}));
        QCOMPARE(*at({500006, 6800001}, 8), (Point{500000, 6800000}));
        QVERIFY(!at({500050, 6799980}, 8));
        QVERIFY(!at({500050, 6799996}, 8, InHand{m_source, 1}));
        // What both have in common is the neighbour's.
        QCOMPARE(*at({500104, 6800050}, 8, InHand{m_source, 1}), (Point{500100, 6800050}));
        QVERIFY(at({500050, 6799996}, 8, InHand{m_source + 7, 1}));
    }
    void keepsPointsWithoutHeights() {
        Geometry line = Geometry::line({{500000, 6800000}, {500050, 6800000}, {500100, 6800000}});
        line.z = {12.5, kNaN, 14};
        const auto read = shapeFromWkt(wktOf(line));
        QVERIFY(read && read->z.size() == 3);
        QVERIFY(std::isnan(read->z[1]) && read->z[2] == 14);
        QCOMPARE(wktOf(line, Gaps::Zero).find("nan"), std::string::npos);
    }

    void movesOnlyTheVertexInHand() {
        const auto shape = shapeInHand(source(), m_cache, 1, *crs::crsFromCode(4326));
        QVERIFY(shape);
        QCOMPARE(shape->own.points.size(), shape->onMap.points.size());
        QVERIFY(std::abs(shape->onMap.points[0].x + 9) < 0.01);
        QVERIFY(perform(shapeEdit(1, withVertexAt(shape->own, 2, {500150, 6800150}))));
        QCOMPARE(wkt(table(), 0),
                 QString("POLYGON((500000 6800000, 500100 6800000, 500150 6800150, 500000 6800100, "
                         "500000 6800000))"));
        QCOMPARE(exactText(table().value(0, 0)), std::string("Ness"));
        QVERIFY(!shapeInHand(source(), m_cache, 77, m_utm));
        QVERIFY(perform(shapeEdit(1, std::nullopt)));
        QCOMPARE(table().size(), std::size_t{2});
    }
    void cutsWithValues() {
        const Geometry cut = Geometry::line({{500030, 6799000}, {500030, 6801000}});
        QVERIFY(perform(splittingEdits(source(), m_cache, {1}, cut, m_utm)));
        const FeatureTable after = table();
        QCOMPARE(after.size(), std::size_t{4});
        QCOMPARE(planarArea(after.geometry(0)), 7000.0);  // the larger keeps its key
        QCOMPARE(after.key(0), FeatureKey{1});
        QCOMPARE(planarArea(after.geometry(3)), 3000.0);
        for (std::size_t k = 0; k < 3; ++k)
            QCOMPARE(exactText(after.value(3, k)), exactText(after.value(0, k)));
        const auto nothing =
            splittingEdits(source(), m_cache, {2}, Geometry::line({{0, 0}, {1, 1}}), m_utm);
        QVERIFY(!nothing && nothing.error().why.find("divides nothing") != std::string::npos);
        QVERIFY(!splittingEdits(source(), m_cache, {}, cut, m_utm));
    }
    void mergesAndParts() {
        QVERIFY(perform(mergingEdits(source(), m_cache, {1, 2})));
        QCOMPARE(table().size(), std::size_t{2});
        QCOMPARE(planarArea(table().geometry(0)), 20000.0);
        QCOMPARE(table().geometry(0).partCount(), std::size_t{1});  // grown together
        QCOMPARE(exactText(table().value(0, 0)), std::string("Ness"));
        QVERIFY(!mergingEdits(source(), m_cache, {1}));
        QVERIFY(perform(partingEdits(source(), m_cache, {5})));
        QCOMPARE(table().size(), std::size_t{3});
        QCOMPARE(planarArea(table().geometry(1)), 200.0);
        QCOMPARE(planarArea(table().geometry(2)), 50.0);
        QVERIFY(!partingEdits(source(), m_cache, {1, 5}));
    }
    // What is drawn survives a project: parts, holes, all of it.
    void keepsDrawingsInProjects() {
        const Geometry drawn = *shapeFromWkt(
            "MULTIPOLYGON (((0 0, 9 0, 9 9, 0 9, 0 0), (1 1, 2 1, 2 2, 1 1)), ((20 0, 21 0, 20 1, "
            "20 0)))");
        QVERIFY(perform(addingEdits(source(), m_cache, drawn, m_utm)));
        const std::filesystem::path folder = m_dir.path().toStdString();
        const auto back = doc::projectFromText(doc::projectText(m_document, folder), folder);
        QVERIFY(back);
        QVERIFY(*back->sources[0].edits == *m_document.sources[0].edits);
    }
    // Projects of before named a kind and points.
    void readsShapesOfFormerProjects() {
        QVERIFY(perform(
            addingEdits(source(), m_cache, Geometry::polygon({{{0, 0}, {4, 0}, {4, 4}}}), m_utm)));
        const std::filesystem::path folder = m_dir.path().toStdString();
        QString text = QString::fromStdString(doc::projectText(m_document, folder));
        const QString now = "\"shape\": \"POLYGON((0 0, 4 0, 4 4, 0 0))\"";
        QVERIFY2(text.contains(now), qPrintable(text));
        text.replace(now, "\"type\": \"polygon\", \"points\": [[0, 0], [4, 0], [4, 4]]");
        const auto back = doc::projectFromText(text.toStdString(), folder);
        QVERIFY(back);
        QVERIFY(*back->sources[0].edits == *m_document.sources[0].edits);
    }

    void refusesEditsThatCannotBe_data() {
        QTest::addColumn<QString>("edits");
        for (const char* edits : {"shape\tone\tPOINT (1 2)", "shape\t1\tPOINT (1", "fly\t1",
                                  "cell\t1", "shape", "add\t1.5\tPOINT (1 2)"})
            QTest::newRow(edits) << edits;
    }
    void refusesEditsThatCannotBe() {
        QFETCH(QString, edits);
        const auto done = doc::applied(m_document, "table-edits",
                                       {{"source", "#" + std::to_string(m_source)},
                                        {"what", "x"},
                                        {"edits", edits.toStdString()}});
        QVERIFY(!done && !done.error().mend.empty());
    }
    // A thousand rows drawn and filled take one pass, not a thousand.
    void addsManyRowsAtOnce() {
        std::string edits;
        for (int key = 10; key < 20010; ++key)
            edits += "add\t" + std::to_string(key) + "\tPOLYGON ((0 0, 1 0, 1 1, 0 0))\ncell\t" +
                     std::to_string(key) + "\tsheep\t" + std::to_string(key) + "\n";
        QVERIFY(perform(edits));
        const FeatureTable after = table();
        QCOMPARE(after.size(), std::size_t{20003});
        QCOMPARE(after.number(20002, 1), 20009.0);
    }

    // A file of several layers is not written with one of them only.
    void savesOneLayerOnlyWhereTheOthersStay() {
        const std::filesystem::path path = m_dir.path().toStdString() + "/two.kml";
        std::ofstream(path)
            << "<kml><Document><Folder><name>A</name><Placemark><name>a</name><Point>"
               "<coordinates>1,2</coordinates></Point></Placemark></Folder><Folder>"
               "<name>B</name><Placemark><name>b</name><Point><coordinates>3,4"
               "</coordinates></Point></Placemark></Folder></Document></kml>";
        doc::SourceRef ref;
        ref.path = path;
        ref.layer = "B";
        ref.edits = Shared<EditLog>(EditLog{{CellEdit{1, "name", "c"}}});
        const auto refused = saveEdits(ref, m_cache, {});
        QVERIFY(!refused && refused.error().why.find("2 layers") != std::string::npos);
        doc::SourceRef other = ref;
        other.layer = "A";
        other.edits = {};
        const auto kept = m_cache.table(other);
        QVERIFY(kept && (*kept)->size() == 1);
        // Nor is a drawing, whose blocks would be gone.
        const std::filesystem::path drawing = m_dir.path().toStdString() + "/plan.dxf";
        QVERIFY(io::writeTable(table(), drawing, {}));
        doc::SourceRef plan;
        plan.path = drawing;
        plan.edits = Shared<EditLog>(EditLog{{CellEdit{1, "name", "c"}}});
        const auto size = std::filesystem::file_size(drawing);
        const auto kept2 = saveEdits(plan, m_cache, {});
        QVERIFY(!kept2 && kept2.error().why.find("more than") != std::string::npos);
        QCOMPARE(std::filesystem::file_size(drawing), size);
        // A database keeps them.
        doc::SourceRef crofts = source();
        crofts.edits = Shared<EditLog>(EditLog{{CellEdit{1, "name", "c"}}});
        QVERIFY(saveEdits(crofts, m_cache, {}));
    }
    // What is written says itself how it is read.
    void forgetsHowItWasReadOnceItIsWritten() {
        const auto told = doc::applied(m_document, "source-reading",
                                       {{"source", "crofts"}, {"encoding", "IBM850"}});
        QVERIFY(told);
        QCOMPARE(told->document.sources[0].reading.encoding, std::string("IBM850"));
        const auto saved = doc::applied(told->document, "table-saved", {{"source", "crofts"}});
        QVERIFY(saved && saved->document.sources[0].reading.isPlain());
    }

    void readsTypedLegs_data() {
        QTest::addColumn<double>("metres");  // 0: none
        QTest::addColumn<double>("bearing");
        const auto row = [](const char* typed, double metres, double bearing) {
            QTest::newRow(typed) << metres << bearing;
        };
        row("120 45", 120, 45);
        row("120 m 45", 120, 45);
        row("1.2 km N 30 E", 1200, 30);
        row("100ft @ 271.5", 30.48, 271.5);
        row("50 m S 10 W", 50, 190);
        row("50 m S 10 E", 50, 170);
        row("50 N 10 W", 50, 350);
        row("2 nmi 360", 3704, 0);
        row("1 mi, 5°", 1609.344, 5);
        row("120", 0, 0);
        row("0 45", 0, 0);
        row("120 361", 0, 0);
        row("50 N 100 E", 0, 0);
        row("50 N 10", 0, 0);
        row("-5 10", 0, 0);
        row("", 0, 0);
    }
    void readsTypedLegs() {
        QFETCH(double, metres);
        QFETCH(double, bearing);
        const auto leg = typedLeg(QTest::currentDataTag());
        QCOMPARE(leg.has_value(), metres > 0);
        if (!leg) return;
        QVERIFY(std::abs(leg->metres - metres) < 1e-9);
        QCOMPARE(leg->bearing, bearing);
    }
    void goesWhereALegLeads() {
        for (const int code : {4326, 32629, 3857}) {
            const auto crs = *crs::crsFromCode(code);
            const auto base = std::make_shared<const crs::Crs>(crs::geographicBase(*crs));
            const auto way = *crs::Transformation::between(base, crs);
            const Point from = way.forward(Point{-9.5, 61.5});
            const Point to = endOfLeg(crs, from, {1234, 77});
            const auto line = crs::Geodesic(crs->ellipsoid).inverse({-9.5, 61.5}, way.inverse(to));
            QVERIFY(std::abs(line.distance - 1234) < 1e-6);
            QVERIFY(std::abs(line.bearingStart - 77) < 1e-6);
        }
        QVERIFY(distance(endOfLeg(nullptr, {1, 1}, {10, 90}), {11, 1}) < 1e-9);
    }
    void beginsNewLayersEmpty() {
        const std::filesystem::path path = m_dir.path().toStdString() + "/drawn.gpkg";
        QVERIFY(writeEmptyLayer(path, GeometryType::Line, m_utm));
        doc::SourceRef drawn;
        drawn.path = path;
        const auto empty = m_cache.table(drawn);
        QVERIFY(empty);
        QCOMPARE((*empty)->size(), std::size_t{0});
        QVERIFY((*empty)->info.geometry == GeometryType::Line);
        QCOMPARE((*empty)->info.crs->code, 32629);
        auto edits = addingEdits(drawn, m_cache,
                                 Geometry::line({{500000, 6800000}, {500001, 6800001}}), m_utm);
        QVERIFY(edits && edits->starts_with("add\t1\tLINESTRING"));
    }

    void replacesInCells_data() {
        QTest::addColumn<QString>("find");
        QTest::addColumn<QString>("with");
        QTest::addColumn<bool>("whole");
        QTest::addColumn<bool>("isCaseKept");
        QTest::addColumn<QString>("cells");
        QTest::addColumn<int>("refused");
        QTest::newRow("a part, any case")
            << "S"
            << "z" << false << false << "1\tname\tNezz|5\tname\tIzle" << 0;
        QTest::newRow("capitals count")
            << "s"
            << "z" << false << true << "1\tname\tNezz|5\tname\tIzle" << 0;
        QTest::newRow("capitals do not fit") << "S"
                                             << "z" << false << true << "" << 0;
        QTest::newRow("whole cells") << "voe"
                                     << "Wick" << true << false << "2\tname\tWick" << 0;
        QTest::newRow("digits of numbers")
            << "2"
            << "7" << false << false << "1\tsheep\t17|2\tsheep\t70" << 3;
        QTest::newRow("no number any more") << "12"
                                            << "many" << false << false << "" << 1;
        QTest::newRow("nothing to find") << ""
                                         << "x" << false << false << "" << 0;
        QTest::newRow("emptied") << "3"
                                 << "" << true << false << "5\tsheep" << 0;
    }
    void replacesInCells() {
        QFETCH(QString, find);
        QFETCH(QString, with);
        QFETCH(bool, whole);
        QFETCH(bool, isCaseKept);
        QFETCH(QString, cells);
        QFETCH(int, refused);
        const FeatureTable all = table();
        const auto made = replaced(all, {0, 1, 2}, {0, 1, 2},
                                   {find.toStdString(), with.toStdString(), whole, isCaseKept});
        QVERIFY(made);
        QCOMPARE(QString::fromStdString(made->cells).trimmed().replace('\n', '|'), cells);
        QCOMPARE(made->count, static_cast<std::size_t>(cells.isEmpty() ? 0 : cells.count('|') + 1));
        // Dates that would be none are left alone too: 2026 holds a 2 in each row.
        QCOMPARE(made->refused, static_cast<std::size_t>(refused));
    }

    void writesDaysAsAColumnHasThem_data() {
        QTest::addColumn<int>("form");
        QTest::addColumn<QString>("day");
        QTest::addColumn<QString>("instant");
        QTest::newRow("ISO") << 0 << "2026-03-05"
                             << "2026-03-05 06:07:00 UTC";
        QTest::newRow("dotted") << 1 << "05.03.2026"
                                << "05.03.2026 06:07";
        QTest::newRow("named") << 2 << "5 Mar 2026"
                               << "5 Mar 2026 06:07";
        QTest::newRow("month and year") << 3 << "Mar 2026"
                                        << "Mar 2026";
        QTest::newRow("year") << 4 << "2026"
                              << "2026";
    }
    void writesDaysAsAColumnHasThem() {
        QFETCH(int, form);
        QFETCH(QString, day);
        QFETCH(QString, instant);
        doc::ColumnLook look;
        look.dates = static_cast<doc::DateForm>(form);
        QCOMPARE(QString::fromStdString(shownText(Value(*parseDate("2026-03-05")), look)), day);
        const Value time(*parseTimeStamp("2026-03-05T06:07:00Z"));
        if (form == 0)
            QCOMPARE(shownText(time, look), displayText(time));
        else
            QCOMPARE(QString::fromStdString(shownText(time, look)), instant);
        QCOMPARE(shownText(Value(), look), displayText(Value()));
    }

    // By the relation of shapes to those of another layer, in another CRS.
    void asksByRelation() {
        const FeatureTable crofts = table();
        FeatureList list;
        list.info.name = "well";
        list.info.crs = *crs::crsFromCode(4326);
        const auto way = *crs::Transformation::between(m_utm, list.info.crs);
        list.features = {{1, Geometry::point(way.forward(Point{500150, 6800050})), {}}};
        Asked asked{"sheep > 0"};
        asked.near = std::make_shared<const FeatureTable>(std::move(list));
        asked.relation = "contains";
        const auto rows = askedRows(crofts, asked);
        QVERIFY(rows);
        QVERIFY((rows->rows == std::vector<std::size_t>{1}));
        asked.relation = "disjoint";
        QVERIFY((askedRows(crofts, asked)->rows == std::vector<std::size_t>{0, 2}));
        asked.relation = "besides";
        QVERIFY(!askedRows(crofts, asked));
    }
};

QTEST_APPLESS_MAIN(HandEditsTest)
#include "hand_edits_test.moc"
