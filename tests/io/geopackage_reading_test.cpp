#include <fcntl.h>
#include <sqlite3.h>
#include <unistd.h>

#include <QScopeGuard>
#include <QTemporaryDir>
#include <QTest>

#include "core/base/parallel.h"
#include "io/geopackage/database.h"
#include "io/registry.h"

using namespace ledge;

/// How the bytes of a GeoPackage come: in pieces on all cores, in stretches, and without letting go
/// of what others rely on.
class GeoPackageReadingTest : public QObject {
    Q_OBJECT

private:
    QTemporaryDir m_dir;
    std::filesystem::path at(const char* name) const {
        return m_dir.path().toStdString() + "/" + name;
    }
    static void run(const std::filesystem::path& path, const QString& sql) {
        sqlite3* db = nullptr;
        QCOMPARE(sqlite3_open(path.c_str(), &db), SQLITE_OK);
        const auto closing = qScopeGuard([db] { sqlite3_close(db); });
        QVERIFY2(sqlite3_exec(db, sql.toUtf8().constData(), nullptr, nullptr, nullptr) == SQLITE_OK,
                 sqlite3_errmsg(db));
    }
    // Its index has triggers that only programs with spatial functions can run.
    static void changed(const std::filesystem::path& path, const QString& sql) {
        QString drop = "DROP TABLE IF EXISTS rtree_plots_geom;";
        for (const char* of : {"insert", "update1", "update2", "update3", "update4", "delete"})
            drop += QString("DROP TRIGGER IF EXISTS rtree_plots_geom_%1;").arg(of);
        run(path, drop + sql);
    }
    static FeatureTable squares(int count) {
        LayerInfo info;
        info.name = "plots";
        info.crs = *crs::crsFromCode(32629);
        info.geometry = GeometryType::Polygon;
        info.fields = {{"kind", FieldType::Text}, {"n", FieldType::Integer}};
        FeatureTableBuilder builder(std::move(info));
        for (int i = 0; i < count; ++i) {
            const Point a{4e5 + i % 1000 * 10.0, 6.8e6 + i / 1000 * 10.0};
            const std::vector<Value> values{i % 7 == 3 ? Value()
                                                       : Value("kind " + std::to_string(i % 90)),
                                            i % 11 == 5 ? Value() : Value(std::int64_t{i})};
            builder.add(i + 1,
                        i % 1001 == 17 ? Geometry()
                                       : Geometry::polygon({{a, {a.x + 8, a.y}, {a.x, a.y + 8}}}),
                        values);
        }
        return builder.finish();
    }
    static FeatureSourcePtr opened(const std::filesystem::path& path) {
        const auto source = io::openSource(path);
        return source ? std::get<FeatureSourcePtr>(*source) : nullptr;
    }
    // One feature after another, on one thread.
    static FeatureTable scanned(const FeatureSource& source) {
        FeatureTableBuilder builder(source.layers()[0]);
        const auto done = source.scan(0, {},
                                      [&](const Feature& feature) {
                                          builder.add(feature);
                                          return true;
                                      },
                                      {});
        if (!done) qFatal("%s", done.error().why.c_str());
        return builder.finish();
    }
    // The first feature in which two tables differ; nothing where they are alike.
    static QString difference(const FeatureTable& a, const FeatureTable& b) {
        if (a.size() != b.size()) return QString("%1 rows, %2 rows").arg(a.size()).arg(b.size());
        if (a.info.fields != b.info.fields) return "fields";
        if (a.info.notes != b.info.notes) return "notes";
        if (a.info.count != b.info.count || a.info.hasZ != b.info.hasZ) return "what is said";
        const Box &one = a.info.extent, &other = b.info.extent;
        if (one.xMin != other.xMin || one.yMax != other.yMax) return "extent";
        for (std::size_t i = 0; i < a.size(); ++i) {
            const Feature of = a[i].toFeature(), to = b[i].toFeature();
            const bool isAlike = of.id == to.id && of.values == to.values &&
                                 of.geometry.points == to.geometry.points &&
                                 of.geometry.parts == to.geometry.parts &&
                                 of.geometry.z.size() == to.geometry.z.size();
            if (!isAlike) return QString("row %1").arg(i);
        }
        return {};
    }
    // Whether anybody in this program holds a lock on these bytes of a file.
    static bool isLocked(int handle, off_t begin, off_t bytes) {
        struct flock asked {};
        asked.l_type = F_WRLCK;
        asked.l_whence = SEEK_SET;
        asked.l_start = begin, asked.l_len = bytes;
        return ::fcntl(handle, F_OFD_GETLK, &asked) == 0 && asked.l_type != F_UNLCK;
    }
    // Where SQLite locks a file (SQLite file format, "pending byte" and those after it).
    static constexpr off_t kReserved = 0x40000001, kShared = 0x40000002, kSharedBytes = 510;

private Q_SLOTS:
    void cleanup() { setThreadCount(0); }

    void givesInPiecesWhatAScanGives_data() {
        QTest::addColumn<QString>("change");
        QTest::addColumn<bool>("isParted");
        const auto row = [](const char* name, const char* change, bool isParted = true) {
            QTest::newRow(name) << change << isParted;
        };
        row("as written", "");
        row("one row missing", "DELETE FROM plots WHERE fid = 70000");
        row("the first missing", "DELETE FROM plots WHERE fid < 9");
        row("every second", "DELETE FROM plots WHERE fid % 2 = 0");
        row("few left", "DELETE FROM plots WHERE fid % 9 > 0", false);
        row("a gap of a piece", "DELETE FROM plots WHERE fid BETWEEN 50000 AND 130000");
        row("keys below zero", "UPDATE plots SET fid = fid - 300000");
        row("keys at the end", "UPDATE plots SET fid = fid - 200001; UPDATE plots SET fid = fid + "
                               "9223372036854775807");
        row("far apart", "UPDATE plots SET fid = 9000000000000000000 WHERE fid = 200000", false);
        row("at both ends of what there is",
            "UPDATE plots SET fid = 9223372036854775807 WHERE fid = 200000;"
            "UPDATE plots SET fid = -9223372036854775807 WHERE fid = 1",
            false);
        row("text among numbers", "UPDATE plots SET n = 'many' WHERE fid = 150001");
        row("real among whole", "UPDATE plots SET n = 2.5 WHERE fid IN (3, 190000)");
        row("broken geometries", "UPDATE plots SET geom = x'4750' WHERE fid % 50000 = 7");
        row("no numbers", "UPDATE plots SET geom = (SELECT substr(geom, 1, length(geom) - 8) || "
                          "x'000000000000F87F' FROM plots WHERE fid = 1) WHERE fid % 60000 = 5");
        row("a write-ahead log", "PRAGMA journal_mode=WAL", false);
        row("no rows", "DELETE FROM plots", false);
        row("one row", "DELETE FROM plots WHERE fid > 1", false);
    }
    void givesInPiecesWhatAScanGives() {
        QFETCH(QString, change);
        QFETCH(bool, isParted);
        const auto path = at("pieces.gpkg"), fresh = at("fresh.gpkg");
        static const FeatureTable written = squares(200'000);
        if (!std::filesystem::exists(fresh)) QVERIFY(io::writeTable(written, fresh, {}));
        std::filesystem::remove(path);
        std::filesystem::copy_file(fresh, path);
        if (!change.isEmpty()) changed(path, change);
        const auto source = opened(path);
        QVERIFY(source);
        const FeatureTable expected = scanned(*source);
        if (change.isEmpty()) QCOMPARE(difference(expected, written), QString());
        for (const unsigned threads : {2u, 5u}) {
            setThreadCount(threads);
            QCOMPARE(source->pieces(0, FeatureTable::kRun, {}) != nullptr, isParted);
            const auto read = readAll(*source, 0);
            QVERIFY(read);
            QCOMPARE(difference(**read, expected), QString());
        }
        // Smaller pieces than a table's runs, whose ends do not meet.
        if (const auto pieces = source->pieces(0, 7001, {})) {
            std::vector<FeatureTableBuilder> parts;
            for (std::size_t i = 0; i < pieces->count(); ++i) {
                parts.emplace_back(source->layers()[0]);
                QVERIFY(pieces->scan(i,
                                     [&](const Feature& feature) {
                                         parts.back().add(feature);
                                         return true;
                                     },
                                     {}));
            }
            QVERIFY(parts.size() > 10);
            QCOMPARE(difference(FeatureTableBuilder::finish(std::move(parts)), expected),
                     QString());
        }
    }
    void isStoppedInPieces() {
        const auto path = at("stopped.gpkg");
        QVERIFY(io::writeTable(squares(200'000), path, {}));
        const auto source = opened(path);
        setThreadCount(2);
        std::stop_source stop;
        const auto read = readAll(*source, 0, {stop.get_token(), [&](double share) {
                                                   if (share > 0.2) stop.request_stop();
                                               }});
        QVERIFY(!read);
        QCOMPARE(read.error().code, ErrorCode::Cancelled);
        QVERIFY(readAll(*source, 0));
    }
    // Whoever throws while it reads a piece keeps no connection from the others.
    void givesConnectionsBack() {
        const auto path = at("thrown.gpkg");
        QVERIFY(io::writeTable(squares(70'000), path, {}));
        const auto source = opened(path);
        setThreadCount(2);
        const auto pieces = source->pieces(0, 7001, {});
        QVERIFY(pieces);
        for (std::size_t i = 0; i < 5; ++i) {
            bool isThrown = false;
            try {
                (void)pieces->scan(i, [](const Feature&) -> bool { throw std::bad_alloc(); }, {});
            } catch (const std::bad_alloc&) {
                isThrown = true;
            }
            QVERIFY(isThrown);
        }
        int count = 0;
        QVERIFY(pieces->scan(2,
                             [&](const Feature&) {
                                 ++count;
                                 return true;
                             },
                             {}));
        QCOMPARE(count, 7001);
    }
    void tellsHowFarItIsInPieces() {
        const auto path = at("told.gpkg");
        QVERIFY(io::writeTable(squares(200'000), path, {}));
        setThreadCount(2);
        std::atomic<int> told{0};
        std::atomic<bool> isWrong{false};
        QVERIFY(readAll(*opened(path), 0, {{}, [&](double share) {
                                               ++told;
                                               if (share < 0 || share > 1) isWrong = true;
                                           }}));
        QVERIFY(told > 20 && !isWrong);
    }

    // In whatever order pages are read, and however they lie in the file: SQLite gets what is
    // there.
    void readsWhatIsThere_data() {
        QTest::addColumn<QString>("sql");
        QTest::addColumn<bool>("isWrittenOver");
        for (const bool isWrittenOver : {false, true})
            for (const char* sql :
                 {"SELECT fid, n FROM plots", "SELECT fid, n FROM plots ORDER BY fid DESC",
                  "SELECT fid, geom FROM plots ORDER BY fid * 7919 % 200003 LIMIT 4000",
                  "SELECT p.fid, q.n FROM plots p JOIN plots q ON q.fid = 60001 - p.fid",
                  "SELECT id, minx FROM rtree_plots_geom WHERE maxx > 405000",
                  "SELECT count(*), sum(rowid) FROM rtree_plots_geom_rowid"})
                QTest::addRow("%s, %s", sql, isWrittenOver ? "written over" : "new")
                    << sql << isWrittenOver;
    }
    void readsWhatIsThere() {
        QFETCH(QString, sql);
        QFETCH(bool, isWrittenOver);
        const auto path = at(isWrittenOver ? "over.gpkg" : "new.gpkg");
        if (!std::filesystem::exists(path))
            for (int times = isWrittenOver ? 3 : 1; times > 0; --times)
                QVERIFY(io::writeTable(squares(60'000), path, {}));
        const auto all = [&](int flags) {
            const auto database = io::Database::open(path, flags);
            const auto rows = database->prepare(sql.toStdString());
            std::vector<std::pair<std::string, std::string>> out;
            while (rows && rows->step()) out.emplace_back(rows->text(0), rows->text(1));
            return out;
        };
        // For reading in stretches, for writing as SQLite does it.
        const auto read = all(SQLITE_OPEN_READONLY);
        QVERIFY(!read.empty());
        QVERIFY(read == all(SQLITE_OPEN_READWRITE));
    }

    // What was read ahead is not older than what others wrote since.
    void seesWhatOthersWrote_data() {
        QTest::addColumn<QString>("journal");
        for (const char* journal : {"DELETE", "TRUNCATE", "PERSIST", "WAL"})
            QTest::newRow(journal) << journal;
    }
    void seesWhatOthersWrote() {
        QFETCH(QString, journal);
        const auto path = at(qPrintable("changing-" + journal + ".gpkg"));
        QVERIFY(io::writeTable(squares(30'000), path, {}));
        run(path, "PRAGMA journal_mode=" + journal);
        const auto source = opened(path);
        setThreadCount(1);
        const auto last = [&] { return scanned(*source).number(29'999, 1); };
        QCOMPARE(last(), 29'999.0);
        for (int round = 0; round < 5; ++round) {
            // Only what is at the end, which the last scan left read.
            changed(path, QString("UPDATE plots SET n = %1 WHERE fid = 30000").arg(-round));
            if (round == 3) run(path, "PRAGMA wal_checkpoint(TRUNCATE)");
            QCOMPARE(last(), -1.0 * round);
        }
        changed(path, "DELETE FROM plots WHERE fid < 100");
        QCOMPARE(scanned(*source).size(), std::size_t{29'901});
    }
    void seesWhatItWroteItself() {
        const auto path = at("own.gpkg");
        QVERIFY(io::writeTable(squares(30'000), path, {}));
        const auto source = opened(path);
        QCOMPARE(scanned(*source).size(), std::size_t{30'000});
        QVERIFY(io::writeTable(squares(20'000), path, {}));
        QCOMPARE(scanned(*source).size(), std::size_t{20'000});
    }

    // By POSIX, closing any handle of a file lets go of a program's locks on all of it.
    void keepsItsLocks() {
        const auto path = at("locked.gpkg");
        QVERIFY(io::writeTable(squares(3000), path, {}));
        const int handle = ::open(path.c_str(), O_RDWR | O_CLOEXEC);
        QVERIFY(handle >= 0);
        const auto source = opened(path);
        int looked = 0;
        const auto done = source->scan(0, {},
                                       [&](const Feature& feature) {
                                           if (feature.id % 1000 != 500) return true;
                                           ++looked;
                                           if (!isLocked(handle, kShared, kSharedBytes))
                                               return false;
                                           const auto again =
                                               opened(path);  // looked at, opened, read and closed
                                           if (!again || !readAll(*again, 0)) return false;
                                           return isLocked(handle, kShared, kSharedBytes);
                                       },
                                       {});
        QVERIFY(done);
        QCOMPARE(looked, 3);
        QVERIFY(isLocked(handle, kShared, kSharedBytes) == false);
        {
            const auto writer = io::Database::open(path, SQLITE_OPEN_READWRITE);
            QVERIFY(writer && writer->run("BEGIN IMMEDIATE"));
            QVERIFY(isLocked(handle, kReserved, 1));
            for (int i = 0; i < 3; ++i) QVERIFY(opened(path));
            QVERIFY(isLocked(handle, kReserved, 1));
            QVERIFY(writer->run("COMMIT"));
        }
        QVERIFY(!isLocked(handle, kReserved, 1));
        ::close(handle);
    }
    // What was opened beside a database is closed with it.
    void leavesNoHandles() {
        const auto path = at("handles.gpkg");
        QVERIFY(io::writeTable(squares(100), path, {}));
        const auto handles = [] {
            return std::distance(std::filesystem::directory_iterator("/proc/self/fd"), {});
        };
        const auto before = handles();
        {
            const auto first = opened(path);
            for (int i = 0; i < 20; ++i) QVERIFY(opened(path));
            QVERIFY(handles() > before);
            QVERIFY2(handles() < before + 10, "a handle for each look");
        }
        QCOMPARE(handles(), before);
    }
};

QTEST_APPLESS_MAIN(GeoPackageReadingTest)
#include "geopackage_reading_test.moc"
