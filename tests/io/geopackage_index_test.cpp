#include <sqlite3.h>

#include <QTemporaryDir>
#include <QTest>
#include <random>

#include "core/query/question.h"
#include "io/geopackage/sql_condition.h"
#include "io/registry.h"

using namespace ledge;

/// What a GeoPackage is asked to do itself: its R-tree for extents, SQL for conditions. Answers are
/// the same without.
class GeoPackageIndexTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path at(const char* name) const {
        return m_dir.path().toStdString() + "/" + name;
    }
    // The first column of each row; what SQLite says when it cannot.
    static QStringList sql(const std::filesystem::path& path, const QString& text) {
        sqlite3* db = nullptr;
        QStringList out;
        if (sqlite3_open(path.c_str(), &db) == SQLITE_OK) {
            char* said = nullptr;
            sqlite3_exec(
                db, text.toUtf8().constData(),
                [](void* into, int, char** values, char**) {
                    *static_cast<QStringList*>(into) << QString(values[0] ? values[0] : "NULL");
                    return 0;
                },
                &out, &said);
            if (said) out << said;
            sqlite3_free(said);
        }
        sqlite3_close(db);
        return out;
    }
    static FeatureTable boxes(int count, unsigned seed = 3) {
        std::mt19937 random(seed);
        std::uniform_real_distribution<double> x(4e5, 5e5), y(6.8e6, 6.9e6), side(0, 300);
        FeatureList list;
        list.info.name = "fields";
        list.info.crs = *crs::crsFromCode(32629);
        list.info.geometry = GeometryType::Polygon;
        list.info.fields = {{"name", FieldType::Text},
                            {"n", FieldType::Integer},
                            {"share", FieldType::Real},
                            {"on", FieldType::Date}};
        static const char* const names[] = {"Ness", "Voe", "it's", "ness", "N\xC3\xA6s", "12", ""};
        for (int i = 0; i < count; ++i) {
            const Point a{x(random), y(random)};
            const double s = side(random);
            Feature f{i * 3 + 2,
                      i % 17 == 5 ? Geometry()
                                  : Geometry::polygon({{a, {a.x + s, a.y}, {a.x, a.y + s}}}),
                      {}};
            f.values = {i % 5 == 4 ? Value() : Value(std::string(names[random() % 7])),
                        i % 7 == 3 ? Value() : Value(static_cast<std::int64_t>(random() % 40) - 20),
                        i % 11 == 3 ? Value() : Value(static_cast<double>(random() % 64) / 8 - 4),
                        Value(Date{static_cast<std::int32_t>(random() % 20000)})};
            list.features.push_back(std::move(f));
        }
        return FeatureTable(std::move(list));
    }
    static std::vector<FeatureKey> keys(const std::filesystem::path& path, const Query& query) {
        const auto source = io::openSource(path);
        const auto table = readAll(*std::get<FeatureSourcePtr>(*source), 0, {}, query);
        std::vector<FeatureKey> out;
        for (std::size_t i = 0; table && i < (*table)->size(); ++i) out.push_back((*table)->key(i));
        return out;
    }

    static std::int64_t rows(const std::filesystem::path& path) {
        const auto source = io::openSource(path);
        return source ? std::get<FeatureSourcePtr>(*source)->layers()[0].count : -1;
    }

private Q_SLOTS:
    // By the index where it can be, and right where it cannot.
    void tellsHowManyRows_data() {
        QTest::addColumn<QString>("change");
        QTest::addColumn<int>("count");
        QTest::newRow("none missing") << "" << 400;
        QTest::newRow("one in the middle") << "DELETE FROM fields WHERE fid = 200" << 399;
        QTest::newRow("the first") << "DELETE FROM fields WHERE fid = 1" << 399;
        QTest::newRow("one without a shape") << "shapeless" << 400;
        QTest::newRow("no index") << "DROP TABLE rtree_fields_geom" << 400;
        QTest::newRow("no rows") << "DELETE FROM fields" << 0;
    }
    void tellsHowManyRows() {
        QFETCH(QString, change);
        QFETCH(int, count);
        FeatureList list;
        list.info.name = "fields";
        list.info.crs = *crs::crsFromCode(32629);
        list.info.geometry = GeometryType::Point;
        list.info.fields = {{"n", FieldType::Integer}};
        for (int i = 0; i < 400; ++i)
            list.features.push_back({i + 1, Geometry::point({4e5 + i, 6.8e6}), {std::int64_t{i}}});
        if (change == "shapeless") list.features[6].geometry = {};
        const auto path = at("rows.gpkg");
        QVERIFY(io::writeTable(FeatureTable(list), path, {}));
        if (change.contains(' ')) QCOMPARE(sql(path, change), QStringList());
        QCOMPARE(rows(path), std::int64_t{count});
    }

    void indexesEachFeature_data() {
        QTest::addColumn<int>("count");
        for (const int count : {0, 1, 5, 51, 52, 54, 120, 2600, 2800, 140000})
            QTest::newRow(qPrintable(QString::number(count))) << count;
    }
    void indexesEachFeature() {
        QFETCH(int, count);
        const FeatureTable table = boxes(count);
        const auto path = at(qPrintable(QString("i%1.gpkg").arg(count)));
        QVERIFY(io::writeTable(table, path, {}));
        // SQLite's own look at every node, cell and parent.
        QCOMPARE(sql(path, "SELECT rtreecheck('rtree_fields_geom')"), QStringList{"ok"});
        QCOMPARE(rows(path), std::int64_t{count});
        const int shapeless = (count + 11) / 17;
        QCOMPARE(sql(path, "SELECT count(*) FROM rtree_fields_geom"),
                 QStringList{QString::number(count - shapeless)});
        std::mt19937 random(9);
        std::uniform_real_distribution<double> x(3.9e5, 5e5), y(6.79e6, 6.9e6), side(0, 4e4);
        for (int round = 0; round < 20; ++round) {
            Query query;
            const Point low{x(random), y(random)};
            query.extent = {low.x, low.y, low.x + side(random), low.y + side(random)};
            std::vector<FeatureKey> expected;
            for (std::size_t i = 0; i < table.size(); ++i)
                if (table.box(i).intersects(query.extent)) expected.push_back(table.key(i));
            QVERIFY(keys(path, query) == expected);
        }
    }
    void answersAlikeWithoutIndex() {
        const auto path = at("bare.gpkg");
        QVERIFY(io::writeTable(boxes(500), path, {}));
        Query query;
        query.extent = {4.2e5, 6.82e6, 4.6e5, 6.87e6};
        const auto with = keys(path, query);
        QVERIFY(with.size() > 20 && with.size() < 400);
        sql(path, "DROP TABLE rtree_fields_geom");
        QVERIFY(keys(path, query) == with);
        sql(path, "DROP TABLE gpkg_extensions");
        QVERIFY(keys(path, query) == with);
    }
    // A layer written anew has a new index; what others put into the file stays.
    void keepsWhatItDoesNotKnow() {
        const auto path = at("kept.gpkg");
        QVERIFY(io::writeTable(boxes(60), path, {}));
        sql(path, "CREATE TABLE notes (id INTEGER PRIMARY KEY, said TEXT);"
                  "INSERT INTO notes VALUES (1, 'windy');"
                  "INSERT INTO gpkg_extensions VALUES ('notes', NULL, 'author_notes', 'by hand', "
                  "'read-write')");
        FeatureTable other = boxes(90, 8);
        QVERIFY(io::writeTable(other, path, {}));
        other.info.name = "second \"layer\"";
        QVERIFY(io::writeTable(other, path, {}));
        QCOMPARE(sql(path, "SELECT said FROM notes"), QStringList{"windy"});
        QCOMPARE(sql(path, "SELECT count(*) FROM gpkg_extensions"), QStringList{"3"});
        QCOMPARE(sql(path, "SELECT rtreecheck('rtree_fields_geom')"), QStringList{"ok"});
        QCOMPARE(sql(path, "SELECT rtreecheck('rtree_second \"layer\"_geom')"), QStringList{"ok"});
        QCOMPARE(sql(path, "SELECT count(*) FROM sqlite_master WHERE type='trigger'"),
                 QStringList{"12"});
        QCOMPARE(sql(path, "PRAGMA integrity_check"), QStringList{"ok"});
    }

    void saysConditionsAsSql_data() {
        QTest::addColumn<QString>("keep");
        QTest::addColumn<QString>("said");  // empty: nothing can be said
        const auto row = [](const char* keep, const char* said) {
            QTest::newRow(keep) << keep << said;
        };
        row("n > 3", "(\"n\">3 OR typeof(\"n\") NOT IN ('integer','real','null'))");
        row("3 > n", "(\"n\"<3 OR typeof(\"n\") NOT IN ('integer','real','null'))");
        row("name = 'it''s'", "(\"name\"='it''s' OR typeof(\"name\") NOT IN ('text','null'))");
        row("n IS NULL", "(\"n\" IS NULL)");
        row("n > 3 AND name < 'x'",
            "((\"n\">3 OR typeof(\"n\") NOT IN ('integer','real','null')))");
        row("n > 3 AND n > mean(n)", "");  // the mean is of all rows
        row("n > 3 OR lower(name) = 'x'", "");
        row("NOT n > 3", "");
        row("name < 'b'", "");
        row("name = 'N\xC3\xA6s'", "");
        row("n > share", "");
        row("n = 9007199254740993", "");
        row("on = DATE('2026-11-27')", "");
        row("no_such = 3", "");
        row("n >", "");
    }
    void saysConditionsAsSql() {
        QFETCH(QString, keep);
        QFETCH(QString, said);
        QCOMPARE(QString::fromStdString(io::sqlCondition(keep.toStdString(), boxes(1).info)), said);
    }

    // Whatever is asked: the source leaves out nothing that answers, also where it holds what its
    // columns do not say.
    void leavesOutNothingThatAnswers() {
        const auto path = at("asked.gpkg");
        QVERIFY(io::writeTable(boxes(700), path, {}));
        sql(path, "UPDATE fields SET n = 'many' WHERE fid % 13 = 1; UPDATE fields SET name = 12 "
                  "WHERE fid % 17 = 1; UPDATE fields SET share = x'00' WHERE fid % 19 = 1");
        const auto source = std::get<FeatureSourcePtr>(*io::openSource(path));
        const auto whole = readAll(*source, 0);
        QVERIFY(whole);
        std::mt19937 random(11);
        const auto pick = [&](const QStringList& from) {
            return from[static_cast<qsizetype>(random() % static_cast<unsigned>(from.size()))];
        };
        const std::function<QString(int)> condition = [&](int depth) -> QString {
            if (depth > 0 && random() % 3 > 0)
                return "(" + condition(depth - 1) + pick({" AND ", " OR "}) + condition(depth - 1) +
                       ")";
            const QString number = QString::number(static_cast<int>(random() % 30) - 15),
                          text = pick({"'Ness'", "'ness'", "'it''s'", "'12'", "'Næs'", "''"}),
                          sign = pick({" = ", " <> ", " < ", " <= ", " > ", " >= "});
            switch (random() % 8) {
            case 0: return "n" + sign + number;
            case 1: return number + sign + "share";
            case 2: return "name = " + text;
            case 3: return "name <> " + text;
            case 4: return "n BETWEEN " + number + " AND 9";
            case 5: return "name IN (" + text + ", 'Voe')";
            case 6: return pick({"n", "name", "share"}) + pick({" IS NULL", " IS NOT NULL"});
            default: return "NOT n" + sign + number;
            }
        };
        int helped = 0;
        for (int round = 0; round < 300; ++round) {
            const std::string keep = condition(3).toStdString();
            const auto question = query::Question::condition(keep, (*whole)->info);
            if (!question) continue;
            const auto all = query::rowsWhere(*question, **whole, {});
            Query asking;
            asking.keep = keep;
            const auto some = readAll(*source, 0, {}, asking);
            QVERIFY2(some, keep.c_str());
            const auto kept =
                query::rowsWhere(*query::Question::condition(keep, (*some)->info), **some, {});
            std::vector<FeatureKey> expected, found;
            for (const std::size_t row : all->rows) expected.push_back((*whole)->key(row));
            for (const std::size_t row : kept->rows) found.push_back((*some)->key(row));
            QVERIFY2(found == expected, keep.c_str());
            helped += (*some)->size() < (*whole)->size() ? 1 : 0;
        }
        QVERIFY2(helped > 60, qPrintable(QString::number(helped)));
    }
};

QTEST_APPLESS_MAIN(GeoPackageIndexTest)
#include "geopackage_index_test.moc"
