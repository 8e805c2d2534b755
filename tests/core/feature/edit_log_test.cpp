#include <QTest>
#include <set>

#include "core/feature/edit_log.h"

using namespace ledge;

namespace {
FeatureTable fields(std::size_t count = 5) {
    FeatureList list;
    list.info.name = "fields";
    list.info.geometry = GeometryType::Polygon;
    list.info.fields = {{"name", FieldType::Text},
                        {"sheep", FieldType::Integer},
                        {"area", FieldType::Real},
                        {"fenced", FieldType::Boolean}};
    for (std::size_t i = 0; i < count; ++i) {
        const double x = static_cast<double>(i);
        list.features.push_back({static_cast<FeatureKey>(10 * (i + 1)),
                                 Geometry::polygon({{{x, 0}, {x + 1, 0}, {x + 1, 1}, {x, 0}}}),
                                 {"field " + std::to_string(i), std::int64_t(i), 0.5 * x, true}});
    }
    return FeatureTable(std::move(list));
}

FeatureTable done(const FeatureTable& table, const std::vector<TableEdit>& edits) {
    EditLog log;
    for (const TableEdit& edit : edits) log = log.with(edit);
    auto out = edited(table, log);
    return out ? *std::move(out) : FeatureTable();
}
}  // namespace

/// Edits that lie over a table, by key.
class EditLogTest : public QObject {
    Q_OBJECT

private slots:
    void setsCellsByKeyAndType() {
        const FeatureTable table = fields();
        const FeatureTable next =
            done(table, {CellEdit{20, "name", "Upper park"}, CellEdit{30, "sheep", "17"},
                         CellEdit{40, "area", "2.25"}, CellEdit{50, "fenced", "no"},
                         CellEdit{10, "name", std::nullopt}});
        QCOMPARE(next.size(), table.size());
        QCOMPARE(std::get<std::string>(next.value(1, 0)), std::string("Upper park"));
        QCOMPARE(std::get<std::int64_t>(next.value(2, 1)), std::int64_t{17});
        QCOMPARE(std::get<double>(next.value(3, 2)), 2.25);
        QCOMPARE(std::get<bool>(next.value(4, 3)), false);
        QVERIFY(next.isMissing(0, 0));
        QVERIFY(next.info.notes.empty());
        // What was not touched is what it was, and the table before too.
        QCOMPARE(std::get<std::string>(next.value(2, 0)), std::string("field 2"));
        QCOMPARE(std::get<std::string>(table.value(1, 0)), std::string("field 1"));
        for (std::size_t i = 0; i < table.size(); ++i) {
            QCOMPARE(next.key(i), table.key(i));
            // Coordinates are shared, not copied.
            QCOMPARE(next.geometry(i).points.data(), table.geometry(i).points.data());
        }
    }

    void sharesWhatItDoesNotTouch() {
        const FeatureTable table = fields(200'000);
        const FeatureTable next = done(table, {CellEdit{10, "sheep", "99"}});
        QCOMPARE(next.number(0, 1), 99.0);
        QCOMPARE(next.number(199'999, 1), 199'999.0);
        // Of three runs one column of one was made anew.
        QCOMPARE(next.geometry(150'000).points.data(), table.geometry(150'000).points.data());
    }

    void doesOneThingOnce() {
        EditLog log;
        for (int i = 0; i < 3; ++i) log = log.with(CellEdit{20, "sheep", std::to_string(i)});
        QCOMPARE(log.edits.size(), std::size_t{1});
        QVERIFY(log == log.with(CellEdit{20, "sheep", "2"}));
        QVERIFY(!(log == log.with(CellEdit{20, "area", "2"})));
        const EditLog removed = log.with(RowRemoved{10});
        QVERIFY(removed == removed.with(RowRemoved{10}));
        // In order: what was removed and set again is not there to be set.
        const FeatureTable table = fields();
        const FeatureTable once = done(table, removed.edits), twice = done(once, removed.edits);
        QCOMPARE(once.size(), std::size_t{4});
        QCOMPARE(twice.size(), once.size());
        for (std::size_t i = 0; i < once.size(); ++i) QCOMPARE(twice.key(i), once.key(i));
    }

    void addsAndRemovesRows() {
        const FeatureTable table = fields();
        const FeatureTable next =
            done(table, {RowRemoved{20}, RowRemoved{40}, RowAdded{7, Geometry::point({5, 6})},
                         CellEdit{7, "name", "well"}, CellEdit{20, "name", "gone"}});
        QCOMPARE(next.size(), std::size_t{4});
        std::set<FeatureKey> keys;
        for (const FeatureView f : next) keys.insert(f.id);
        QVERIFY((keys == std::set<FeatureKey>{7, 10, 30, 50}));
        QCOMPARE(std::get<std::string>(next.value(3, 0)), std::string("well"));
        QVERIFY(next.isMissing(3, 1));
        QVERIFY(next.geometry(3).type == GeometryType::Point);
        QCOMPARE(next.info.count, std::int64_t{4});
        QVERIFY(next.info.extent.contains(Point{5, 6}));
        QCOMPARE(next.info.notes.size(), std::size_t{1});
        QVERIFY(next.info.notes[0].find("20") != std::string::npos);
    }

    void movesGeometries() {
        const FeatureTable table = fields();
        const FeatureTable next = done(
            table, {GeometryEdit{30, Geometry::polygon({{{100, 100}, {110, 100}, {110, 120}}})},
                    GeometryEdit{40, {}}});
        QVERIFY(next.box(2).contains(Point{105, 105}));
        QVERIFY(next.box(3).isEmpty());
        QVERIFY(next.info.extent.contains(Point{110, 120}));
        QCOMPARE(std::get<std::string>(next.value(2, 0)), std::string("field 2"));
        QVERIFY(next.geometry(1).points.size() == table.geometry(1).points.size());
    }

    void addsRemovesAndRenamesColumns() {
        const FeatureTable table = fields();
        const FeatureTable next =
            done(table, {ColumnAdded{{"owner", FieldType::Text}}, CellEdit{10, "owner", "Ann"},
                         ColumnNamed{"owner", "keeper"}, CellEdit{20, "keeper", "Bo"},
                         ColumnRemoved{"sheep"}, ColumnAdded{{"name", FieldType::Real}}});
        QStringList names;
        for (const Field& f : next.info.fields) names << QString::fromStdString(f.name);
        QCOMPARE(names, (QStringList{"name", "area", "fenced", "keeper"}));
        QCOMPARE(std::get<std::string>(next.value(0, 3)), std::string("Ann"));
        QCOMPARE(std::get<std::string>(next.value(1, 3)), std::string("Bo"));
        QVERIFY(next.isMissing(2, 3));
        QVERIFY(next.info.notes.empty());
    }

    // A column that follows its fields goes on when one of them gets another name.
    void computesOnUnderAnotherName() {
        const FeatureTable next =
            done(fields(), {ColumnComputed{"dense", "sheep + area", {}, true},
                            ColumnNamed{"sheep", "ewes and rams"}, ColumnNamed{"dense", "per_area"},
                            CellEdit{30, "ewes and rams", "17"}});
        QVERIFY(next.info.notes.empty());
        const int at = next.fieldIndex("per_area");
        QVERIFY(at >= 0 && next.fieldIndex("dense") < 0);
        QCOMPARE(next.number(2, std::size_t(at)), 18.0);
        QCOMPARE(next.number(3, std::size_t(at)), 4.5);
    }

    void tellsWhatItCannotDo_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("said");
        const QStringList said{"no field \"shep\"", "no feature 999",  "is no whole number",
                               "is no number",      "is no yes or no", "a field \"area\" already",
                               "no feature 999"};
        for (int i = 0; i < said.size(); ++i)
            QTest::newRow(qPrintable(QString("%1 %2").arg(i).arg(said[i]))) << i << said[i];
    }
    void tellsWhatItCannotDo() {
        QFETCH(int, which);
        QFETCH(QString, said);
        const std::vector<TableEdit> wrong{CellEdit{10, "shep", "1"},
                                           CellEdit{999, "sheep", "1"},
                                           CellEdit{10, "sheep", "1.5"},
                                           CellEdit{10, "area", "wide"},
                                           CellEdit{10, "fenced", "half"},
                                           ColumnNamed{"sheep", "area"},
                                           GeometryEdit{999, Geometry::point({1, 2})}};
        const FeatureTable table = fields();
        const FeatureTable next = done(table, {wrong[static_cast<std::size_t>(which)]});
        QCOMPARE(next.size(), table.size());
        QCOMPARE(next.info.notes.size(), std::size_t{1});
        QVERIFY2(QString::fromStdString(next.info.notes[0]).contains(said),
                 next.info.notes[0].c_str());
        QCOMPARE(next.number(0, 1), 0.0);
    }

    void tellsEditsApart() {
        std::set<std::uint64_t> seen;
        const std::vector<TableEdit> edits{CellEdit{1, "a", "b"},
                                           CellEdit{1, "ab", ""},
                                           CellEdit{1, "a", std::nullopt},
                                           CellEdit{2, "a", "b"},
                                           GeometryEdit{1, Geometry::point({1, 2})},
                                           GeometryEdit{1, Geometry::point({1, 3})},
                                           RowAdded{1, Geometry::point({1, 2})},
                                           RowRemoved{1},
                                           ColumnAdded{{"a", FieldType::Text}},
                                           ColumnAdded{{"a", FieldType::Real}},
                                           ColumnRemoved{"a"},
                                           ColumnNamed{"a", "b"}};
        for (const TableEdit& edit : edits)
            QVERIFY(seen.insert(EditLog{{edit}}.fingerprint()).second);
        QVERIFY(seen.insert(EditLog{edits}.fingerprint()).second);
        QVERIFY(seen.insert(EditLog{}.fingerprint()).second);
        QCOMPARE(EditLog{edits}.fingerprint(), EditLog{edits}.fingerprint());
    }

    void stopsWhenTold() {
        std::stop_source stop;
        stop.request_stop();
        const auto out = edited(fields(), EditLog{{RowRemoved{10}}}, {stop.get_token(), {}});
        QVERIFY(!out && out.error().code == ErrorCode::Cancelled);
    }
};

QTEST_GUILESS_MAIN(EditLogTest)
#include "edit_log_test.moc"
