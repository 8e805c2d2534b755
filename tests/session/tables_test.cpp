#include <QTemporaryDir>
#include <QTest>

#include "core/feature/edit_log.h"
#include "io/registry.h"
#include "session/asking.h"
#include "session/column_facts.h"
#include "session/derive/operations.h"
#include "session/picking.h"
#include "session/source_cache.h"

using namespace ledge;
using namespace ledge::session;

namespace {
FeatureTable fields() {
    FeatureList list;
    list.info.name = "fields";
    list.info.crs = *crs::crsFromCode(32629);
    list.info.fields = {
        {"name", FieldType::Text}, {"ha", FieldType::Real}, {"sheep", FieldType::Integer}};
    using W = std::int64_t;
    for (int i = 0; i < 10; ++i) {
        const Point p{500000 + i * 100.0, 6800000};
        list.features.push_back(
            {i + 1,
             Geometry::polygon({{p, p + Point{90, 0}, p + Point{90, 90}, p + Point{0, 90}}}),
             {"field " + std::to_string(i), i * 0.5, i == 3 ? Value() : Value(W{i * 10})}});
    }
    return list;
}
}  // namespace

/// What the window and the commands read of tables: columns as they are shown, answers, computed
/// columns, filters, what is picked.
class TablesTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    doc::SourceRef source() const {
        doc::SourceRef out;
        out.id = 1;
        out.name = "fields";
        out.path = m_dir.path().toStdString() + "/fields.gpkg";
        return out;
    }

private slots:
    void initTestCase() { QVERIFY(io::writeTable(fields(), source().path, {})); }

    void showsColumns() {
        const FeatureTable table = fields();
        doc::VectorLayer layer;
        const auto names = [&](bool withHidden = false) {
            QStringList out;
            for (const auto& column : shownColumns(table.info, layer, withHidden))
                out << QString::fromStdString(column.look.field);
            return out.join(' ');
        };
        QCOMPARE(names(), QString("name ha sheep"));
        layer.columns.resize(2);
        layer.columns[0].field = "sheep";
        layer.columns[0].unit = "head";
        layer.columns[1].field = "gone";
        QCOMPARE(names(), QString("name ha sheep"));  // a look is no place
        layer.columns[0].isPlaced = true;
        QCOMPARE(names(), QString("sheep name ha"));
        layer.columns[0].isHidden = true;
        QCOMPARE(names(), QString("name ha"));
        QCOMPARE(names(true), QString("sheep name ha"));
        layer.columns[0] = {};
        layer.columns[0].field = "ha";
        layer.columns[0].isFrozen = true;
        QCOMPARE(names(), QString("ha name sheep"));
    }
    void writesValues_data() {
        QTest::addColumn<double>("value");
        QTest::addColumn<int>("decimals");
        QTest::addColumn<bool>("isPercent");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<QString>("text");
        QTest::newRow("plain") << 4.5 << -1 << false << ""
                               << "4.5";
        QTest::newRow("decimals") << 4.5 << 2 << false << ""
                                  << "4.50";
        QTest::newRow("unit") << 4.5 << -1 << false << "ha"
                              << "4.5 ha";
        QTest::newRow("percent") << 0.254 << 1 << true << ""
                                 << "25.4 %";
        QTest::newRow("missing") << kNaN << 2 << true << "ha"
                                 << "\u2013";
    }
    void writesValues() {
        QFETCH(double, value);
        QFETCH(int, decimals);
        QFETCH(bool, isPercent);
        QFETCH(QString, unit);
        QFETCH(QString, text);
        doc::ColumnLook look;
        look.numbers.decimals = decimals;
        look.isPercent = isPercent;
        look.unit = unit.toStdString();
        QCOMPARE(QString::fromStdString(shownText(Value(value), look)), text);
    }
    void tellsWhatColumnsComeTo() {
        const FeatureTable table = fields();
        const auto sheep = columnFacts(table, 2);
        QVERIFY(sheep);
        QCOMPARE(sheep->summary.sum, 420.0);
        QCOMPARE(sheep->bins.front(), std::int64_t(1));
        QCOMPARE(QString::fromStdString(summaryText(*sheep, table.info.fields[2], {})),
                 QString("1 missing \u00b7 mean 46.7"));
        const auto names = columnFacts(table, 0);
        QCOMPARE(QString::fromStdString(summaryText(*names, table.info.fields[0], {})),
                 QString("10 different"));
        const auto columns = shownColumns(table.info, {});
        const auto [text, isWhole] = tabbedText(table, columns, {3, 0}, 1000);
        QCOMPARE(QString::fromStdString(text),
                 QString("name\tha\tsheep\nfield 3\t1.5\t\nfield 0\t0\t0\n"));
        QVERIFY(isWhole && !tabbedText(table, columns, {3, 0}, 20).second);
    }

    void asksNearAndComputes() {
        const FeatureTable table = fields();
        FeatureList one;
        one.info.crs = table.info.crs;
        one.info.fields = {{"kind", FieldType::Text}};
        one.features.push_back({1, Geometry::point({500050, 6800040}), {std::string("well")}});
        Asked asked{"sheep >= 10"};
        asked.near = std::make_shared<const FeatureTable>(one);
        asked.withinMetres = 100;
        const auto rows = askedRows(table, asked);
        QVERIFY(rows && rows->rows == std::vector<std::size_t>({1}));
        asked.nearKeep = "kind = 'spring'";
        QVERIFY(askedRows(table, asked)->rows.empty());
        asked.nearKeep = "kinds = 'x'";
        QVERIFY(!askedRows(table, asked));
        std::vector<std::string> remarks;
        // Sums are those of all rows, whichever are kept.
        const auto kept =
            selectedTable(table, &rows->rows, {{"sheep"}},
                          {{"share", "sheep / sum(sheep)"}, {"odd", "1 / ha"}}, remarks);
        QVERIFY(kept && kept->size() == 1 && kept->info.fields.size() == 3);
        QCOMPARE(kept->number(0, 1), 10 / 420.0);
        QVERIFY(remarks.size() == 1 && remarks[0].find("division by 0") != std::string::npos);
        QVERIFY(!selectedTable(table, nullptr, {{"nothing"}}, {}, remarks));
    }

    void computedColumnsAreEdits() {
        const FeatureTable table = fields();
        EditLog log;
        log = log.with(ColumnComputed{"dense", "sheep / ha", {}, true});
        log = log.with(CellEdit{3, "sheep", "400"});
        const auto live = edited(table, log);
        QVERIFY(live);
        const auto at = std::size_t(live->fieldIndex("dense"));
        QCOMPARE(live->number(2, at), 400.0);  // it followed the cell
        QVERIFY(live->isMissing(0, at));
        QVERIFY(live->info.notes.back().find("division by 0") != std::string::npos);
        EditLog once;
        once = once.with(ColumnComputed{"sheep", "sheep + 1", {2, 4}, false});
        once = once.with(CellEdit{2, "sheep", "7"});
        const auto some = edited(table, once);
        QCOMPARE(some->number(1, 2), 7.0);
        QVERIFY(some->isMissing(3, 2));  // nothing and one is nothing
        QCOMPARE(some->number(2, 2), 20.0);
        QCOMPARE(some->info.fields.size(), std::size_t(3));  // in its own place
        // The same again takes the place of the last; what cannot be done is told.
        EditLog twice = log.with(ColumnComputed{"x", "1", {}, false});
        QCOMPARE(twice.with(ColumnComputed{"x", "2", {}, false}).edits.size(), twice.edits.size());
        QVERIFY(log.fingerprint() != once.fingerprint());
        EditLog bad;
        bad = bad.with(ColumnComputed{"x", "shep", {}, false});
        QVERIFY(edited(table, bad)->info.notes.back().find("did you mean sheep?") !=
                std::string::npos);
        // A live column that is renamed goes on under its new name; one that is gone is gone.
        EditLog named = log.with(ColumnNamed{"dense", "density"});
        QVERIFY(edited(table, named)->fieldIndex("density") >= 0);
        QVERIFY(edited(table, named)->fieldIndex("dense") < 0);
        EditLog gone = log.with(ColumnRemoved{"dense"});
        QVERIFY(edited(table, gone)->fieldIndex("dense") < 0);
    }

    void filtersAreReadOfTheCache() {
        const SourceCache cache;
        doc::Layer layer;
        layer.content = doc::VectorLayer{};
        layer.as<doc::VectorLayer>()->filter = "sheep > 50";
        const doc::SourceRef only = doc::readBy(layer, source());
        const auto all = cache.table(source()), some = cache.table(only);
        QVERIFY(all && some);
        QCOMPARE((*all)->size(), std::size_t(10));
        QCOMPARE((*some)->size(), std::size_t(4));
        QCOMPARE((*some)->key(0), (*all)->key(6));
        QVERIFY(cache.version(source()) != cache.version(only));
        layer.as<doc::VectorLayer>()->filter = "shep > 50";
        const auto bad = cache.table(doc::readBy(layer, source()));
        QVERIFY(!bad && bad.error().what == "filter");
        // Derived live from the file: features computed as they are read.
        doc::SourceRef live;
        live.id = 2;
        live.name = "around";
        doc::LineageInput input;
        input.path = source().path;
        live.lineage = doc::Lineage{"buffer", {input}, {{"metres", "10"}}};
        const auto around = cache.table(live);
        QVERIFY2(around, around ? "" : around.error().text().c_str());
        QCOMPARE((*around)->size(), std::size_t(10));
        QVERIFY((*around)->info.extent.width() > (*all)->info.extent.width() + 19);
        live.lineage->parameters["metres"] = "far";
        QVERIFY(!cache.table(live));
    }
    void picksBySpotAndFrame() {
        const SourceCache cache;
        const auto crs = *crs::crsFromCode(32629);
        const auto at = [&](const Geometry& shape, double reach) {
            const auto keys = featuresAt(source(), cache, crs, shape, reach);
            return keys ? *keys : std::vector<FeatureKey>{-1};
        };
        QCOMPARE(at(Geometry::point({500245, 6800045}), 1), std::vector<FeatureKey>{3});
        QVERIFY(at(Geometry::point({500295, 6800045}), 1).empty());  // between two
        QCOMPARE(at(Geometry::point({500292, 6800045}), 5), std::vector<FeatureKey>{3});
        QCOMPARE(
            at(Geometry::polygon(
                   {{{500095, 6800001}, {500305, 6800001}, {500305, 6800002}, {500095, 6800002}}}),
               0),
            (std::vector<FeatureKey>{2, 3, 4}));
        QCOMPARE(at(Geometry::line({{500045, 6800095}, {500145, 6800045}}), 0),
                 (std::vector<FeatureKey>{1, 2}));
        const Box box = extentOf(source(), cache, crs, {2, 3});
        QCOMPARE(box.width(), 190.0);
        QVERIFY(extentOf(source(), cache, crs, {99}).isEmpty());
    }
};

QTEST_GUILESS_MAIN(TablesTest)
#include "tables_test.moc"
