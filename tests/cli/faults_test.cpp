#include <sys/stat.h>
#include <unistd.h>

#include <QElapsedTimer>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QRegularExpression>
#include <csignal>
#include <sqlite3.h>

#include "io/registry.h"
#include "support/program.h"

using namespace ledge;

/// What goes wrong around a program while it writes: a full disk, a folder that cannot be written,
/// a limit, a kill, other programs. Every output is tried with each fault, and formats come from
/// their table, so that a new one is tried without being named here.
class FaultsTest : public QObject, test::Program {
    Q_OBJECT

private:
    struct Output {
        QString name;
        QStringList command;  ///< "OUT" stands for the file
    };
    std::vector<Output> m_outputs;

    static QStringList into(const QStringList& command, const QString& file) {
        QStringList out = command;
        out.replaceInStrings("OUT", file);
        return out;
    }
    static QString quoted(const QStringList& command) {
        QStringList out;
        for (const QString& word : command) out << "'" + word + "'";
        return "\"$LEDGE\" " + out.join(" ");
    }
    static bool isAbout(const QString& said, const QString& file) {
        return QRegularExpression("^ledge: (/.*/)?" + file + "\\.").match(said).hasMatch();
    }
    // Files of a set by their names, without what each format counts by the clock.
    int countOf(const QString& file) const {
        const Ran ran = run({"describe", file, "--json"});
        if (ran.code != 0) return -1;
        const QJsonObject said = QJsonDocument::fromJson(ran.out.toUtf8()).object();
        return said["layers"].toArray()[0].toObject()["count"].toInt(-1);
    }
    void outputRows() const {
        QTest::addColumn<QStringList>("command");
        QTest::addColumn<QString>("name");
        for (const Output& one : m_outputs)
            QTest::newRow(qPrintable(one.name)) << one.command << one.name;
    }

private slots:
    void initTestCase() {
        QCOMPARE(run({"demo", "isle", "--cell", "60"}).code, 0);
        // Some thousands of crofts, so that every output is larger than the small disk.
        QByteArray crofts = "{\"type\":\"FeatureCollection\",\"features\":[";
        for (int i = 0; i < 3000; ++i)
            crofts += QByteArray(i > 0 ? "," : "") +
                      "{\"type\":\"Feature\",\"geometry\":{\"type\":\"Point\",\"coordinates\":[" +
                      QByteArray::number(-9 + (i * 7919 % 1000) * 1e-3, 'g', 12) + "," +
                      QByteArray::number(61 + (i * 104729 % 1000) * 1e-3, 'g', 12) +
                      "]},\"properties\":{\"name\":\"croft " + QByteArray::number(i * 7919) +
                      "\"}}";
        writeFile("crofts.geojson", crofts + "]}");
        QDir(m_dir.path()).mkpath("few");
        writeFile("few/crofts.geojson", crofts.left(crofts.indexOf("}},{") + 2) + "]}");
        QCOMPARE(countOf("crofts.geojson"), 3000);
        QCOMPARE(countOf("few/crofts.geojson"), 1);
        QCOMPARE(run({"clip", "isle/island_dem.tif", "square.tif", "--extent",
                      "400000,6825000,420000,6845000"})
                     .code,
                 0);
        QCOMPARE(run({"terrain", "tint", "square.tif", "colours.tif"}).code, 0);
        QCOMPARE(run({"terrain", "hillshade", "square.tif", "light.tif"}).code, 0);
        QCOMPARE(run({"calculate", "if(h > 50, 1, 0)", "flat.tif", "--band", "h=square.tif"}).code,
                 0);
        for (const io::Format& format : io::formats()) {
            const QString suffix = QString::fromUtf8(format.suffixes.front().data(),
                                                     qsizetype(format.suffixes.front().size()));
            if (format.writeTable)
                m_outputs.push_back(
                    {suffix, {"convert", "crofts.geojson", "OUT" + suffix, "--replace"}});
            if (format.writeRaster) {
                // Pictures want bytes.
                const bool isPicture = suffix == ".png" || suffix == ".jpg";
                m_outputs.push_back({suffix,
                                     {"convert", isPicture ? "light.tif" : "square.tif",
                                      "OUT" + suffix, "--replace"}});
            }
        }
        for (const char* suffix : {".png", ".jpg", ".pdf"})
            m_outputs.push_back({QString("sheet as ") + suffix,
                                 {"render", "isle/skerravoe.ledge", "--sheet", "Overview", "--dpi",
                                  "110", "--replace", "--out", QString("OUT") + suffix}});
        m_outputs.push_back(
            {"hillshade", {"terrain", "hillshade", "square.tif", "OUT.tif", "--replace"}});
        m_outputs.push_back(
            {"overviews", {"convert", "square.tif", "OUT.tif", "--overviews", "--replace"}});
        m_outputs.push_back(
            {"contours",
             {"terrain", "contours", "square.tif", "OUT.gpkg", "--interval", "5", "--replace"}});
        m_outputs.push_back(
            {"profile",
             {"terrain", "profile", "square.tif", "--from", "400100,6825100", "--to",
              "419000,6844000", "--step", "2", "--out", "OUT.csv", "--replace"}});
        QVERIFY(m_outputs.size() > 10);
    }
    void cleanup() { QDir(path("out")).removeRecursively(); }

    void isFineWithoutAFault_data() { outputRows(); }
    void isFineWithoutAFault() {
        QFETCH(QStringList, command);
        QDir(m_dir.path()).mkpath("out");
        const Ran ran = run(into(command, "out/made"));
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        for (const auto& [name, bytes] : filesIn("out"))
            QVERIFY2(!name.startsWith('.') && !bytes.isEmpty(), qPrintable(name));
    }

    void saysThatTheDiskIsFull_data() { outputRows(); }
    void saysThatTheDiskIsFull() {
        QFETCH(QStringList, command);
        if (!hasDisks()) QSKIP("small disks cannot be made here");
        const QString line = quoted(into(command, "disk/made"));
        const Ran ran = onDisk(24, line + " ; code=$? ; ls -A disk >&2 ; exit $code");
        QCOMPARE(ran.code, 1);
        QVERIFY2(isAbout(ran.err, "disk/made"), qPrintable(ran.err));
        QVERIFY2(ran.err.contains("the disk is full"), qPrintable(ran.err));
        QCOMPARE(ran.err.count('\n'), 1);  // and nothing is left on it
    }

    void saysThatAFolderCannotBeWritten_data() { outputRows(); }
    void saysThatAFolderCannotBeWritten() {
        QFETCH(QStringList, command);
        if (!hasDisks()) QSKIP("sealed disks cannot be made here");
        const Ran ran = onDisk(4096, "$SEAL && " + quoted(into(command, "disk/made")));
        QCOMPARE(ran.code, 1);
        QVERIFY2(isAbout(ran.err, "disk/made"), qPrintable(ran.err));
        QCOMPARE(ran.err.count('\n'), 1);
    }

    // What was there stays, each byte of it, when its replacement does not fit.
    void keepsTheOldWhereTheNewHasNoRoom_data() { outputRows(); }
    void keepsTheOldWhereTheNewHasNoRoom() {
        QFETCH(QStringList, command);
        QDir(m_dir.path()).mkpath("out");
        const QStringList now = into(command, "out/made");
        QVERIFY(run(now).code == 0);
        const auto before = filesIn("out");
        const Ran ran = shell("ulimit -f 8 && " + quoted(now));
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.contains("larger than is allowed"), qPrintable(ran.err));
        const auto after = filesIn("out");
        QCOMPARE(after.size(), before.size());
        for (const auto& [name, bytes] : before)
            QVERIFY2(after.contains(name) && after.at(name) == bytes, qPrintable(name));
    }

    void keepsLinksAndPermissions_data() { outputRows(); }
    void keepsLinksAndPermissions() {
        QFETCH(QStringList, command);
        QDir(m_dir.path()).mkpath("out/real");
        const QStringList there = into(command, "out/real/made");
        QVERIFY(run(there).code == 0);
        QStringList names;
        for (const auto& [name, bytes] : filesIn("out/real")) {
            QCOMPARE(::chmod(qPrintable(path("out/real/" + name)), 0640), 0);
            QVERIFY(QFile::link("real/" + name, path("out/" + name)));
            names << name;
        }
        const Ran ran = run(into(command, "out/made"));
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        for (const QString& name : names) {
            struct stat seen {};
            QCOMPARE(::lstat(qPrintable(path("out/" + name)), &seen), 0);
            QVERIFY2(S_ISLNK(seen.st_mode), qPrintable(name));
            QCOMPARE(::stat(qPrintable(path("out/" + name)), &seen), 0);
            QVERIFY2((seen.st_mode & 0777) == 0640, qPrintable(name));
        }
        QCOMPARE(int(filesIn("out/real").size()), int(names.size()));
    }

    // Killed at any moment there is the old or the new, never parts of both, and the next to write
    // takes away what was left.
    void isOldOrNewWhenKilled_data() {
        QTest::addColumn<QString>("suffix");
        for (const io::Format& format : io::formats())
            if (format.writeTable)
                QTest::newRow(format.name.data()) << QString::fromUtf8(
                    format.suffixes.front().data(), qsizetype(format.suffixes.front().size()));
    }
    void isOldOrNewWhenKilled() {
        QFETCH(QString, suffix);
        QDir(m_dir.path()).mkpath("out");
        const QString file = "out/crofts" + suffix;
        const auto write = [&](const char* from) {
            return QStringList{"convert", from, file, "--replace"};
        };
        QElapsedTimer clock;
        clock.start();
        QVERIFY(run(write("crofts.geojson")).code == 0);
        const auto whole = static_cast<unsigned>(clock.nsecsElapsed() / 1000);
        unsigned seed = 20261127;
        int killed = 0;
        for (int round = 0; round < 25; ++round) {
            QVERIFY(run(write("few/crofts.geojson")).code == 0);
            QProcess process;
            process.setWorkingDirectory(m_dir.path());
            process.start(test::kProgram, write("crofts.geojson"));
            QVERIFY(process.waitForStarted());
            seed = seed * 1664525 + 1013904223;
            ::usleep(seed / 4096 % whole);
            process.kill();
            process.waitForFinished();
            killed += process.exitStatus() == QProcess::CrashExit;
            const int count = countOf(file);
            QVERIFY2(count == 1 || count == 3000,
                     qPrintable(QString("%1: %2").arg(round).arg(count)));
        }
        QVERIFY2(killed > 5, qPrintable(QString::number(killed)));
        QVERIFY(run(write("few/crofts.geojson")).code == 0);
        QCOMPARE(countOf(file), 1);
        for (const auto& [name, bytes] : filesIn("out"))
            QVERIFY2(!name.startsWith('.'), qPrintable(name));
    }

    // A replacement of several files that was cut off between two of them is finished by whoever
    // opens the first.
    void finishesAReplacement() {
        QDir(m_dir.path()).mkpath("out");
        QVERIFY(run({"convert", "few/crofts.geojson", "out/a.shp"}).code == 0);
        QVERIFY(run({"convert", "crofts.geojson", "out/b.shp"}).code == 0);
        QByteArray list;
        for (const char* suffix : {"dbf", "shx", "shp"}) {
            const QString part = QString("out/.a.%1.1-1.ledge-part").arg(suffix);
            QVERIFY(QFile::copy(path(QString("out/b.") + suffix), path(part)));
            list += "rename\n" + part.mid(4).toUtf8() + "\na." + suffix + "\n";
        }
        // One was renamed before.
        QVERIFY(QFile::remove(path("out/a.dbf")));
        QVERIFY(QFile::rename(path("out/.a.dbf.1-1.ledge-part"), path("out/a.dbf")));
        // What reaches out of the folder is no list of ours.
        writeFile("precious.txt", "mine");
        writeFile("out/.a.shp.ledge-set",
                  list + "remove\n../precious.txt\nrename\n../precious.txt\nx\n");
        QCOMPARE(countOf("out/a.shp"), 3000);
        for (const auto& [name, bytes] : filesIn("out"))
            QVERIFY2(!name.startsWith('.'), qPrintable(name));
        QCOMPARE(bytesOf("precious.txt"), QByteArray("mine"));
    }

    void neverTakesPartsOfOthers() {
        QDir(m_dir.path()).mkpath("out");
        QVERIFY(
            run({"convert", "crofts.geojson", "out/crofts.shp", "--to-crs", "EPSG:3034"}).code ==
            0);
        const QByteArray prj = bytesOf("out/crofts.prj");
        QVERIFY(!prj.isEmpty());
        for (const QString& more : {QString(), QString("--replace")}) {
            QStringList command{"convert", "square.tif", "out/crofts.asc"};
            if (!more.isEmpty()) command << more;
            const Ran ran = run(command);
            QCOMPARE(ran.code, 1);
            QVERIFY2(ran.err.contains("crofts.prj") && ran.err.contains("crofts.shp"),
                     qPrintable(ran.err));
            QCOMPARE(bytesOf("out/crofts.prj"), prj);
            QVERIFY(!QFile::exists(path("out/crofts.asc")));
        }
        // One that says the same serves both.
        QVERIFY(run({"convert", "crofts.geojson", "out/same.shp", "--to-crs", "EPSG:32629"}).code ==
                0);
        const QByteArray same = bytesOf("out/same.prj");
        const Ran fine = run({"convert", "square.tif", "out/same.asc"});
        QVERIFY2(fine.code == 0, qPrintable(fine.err));
        QCOMPARE(bytesOf("out/same.prj"), same);
        // A stray part is taken only when asked.
        writeFile("out/lone.prj", "whose?");
        QCOMPARE(run({"convert", "square.tif", "out/lone.asc"}).code, 1);
        QCOMPARE(bytesOf("out/lone.prj"), QByteArray("whose?"));
        QCOMPARE(run({"convert", "square.tif", "out/lone.asc", "--replace"}).code, 0);
        QVERIFY(bytesOf("out/lone.prj") != "whose?");
        // Parts that the new one has none of go with the old.
        writeFile("out/plain.csv", "x,y\n");
        QVERIFY(run({"convert", "colours.tif", "out/map.tif"}).code == 0);
        writeFile("out/map.tif.ovr", "of the old one");
        QVERIFY(run({"convert", "colours.tif", "out/map.tif", "--replace"}).code == 0);
        QVERIFY(!QFile::exists(path("out/map.tif.ovr")));
    }

    // A database that others have open is written in its own transactions: nobody's layers are
    // lost.
    void sharesADatabase() {
        QDir(m_dir.path()).mkpath("out");
        std::vector<std::unique_ptr<QProcess>> writers;
        for (int i = 0; i < 8; ++i) {
            const QString layer = QString("layer%1").arg(i);
            QVERIFY(QFile::copy(path("few/crofts.geojson"), path("out/" + layer + ".geojson")));
            auto& process = writers.emplace_back(std::make_unique<QProcess>());
            process->setWorkingDirectory(m_dir.path());
            process->start(test::kProgram,
                           {"convert", "out/" + layer + ".geojson", "out/all.gpkg", "--replace"});
        }
        for (auto& process : writers) {
            QVERIFY(process->waitForFinished(60000));
            QVERIFY2(process->exitCode() == 0, process->readAllStandardError().constData());
        }
        const Ran ran = run({"describe", "out/all.gpkg", "--json"});
        const auto layers = QJsonDocument::fromJson(ran.out.toUtf8()).object()["layers"].toArray();
        QCOMPARE(layers.size(), qsizetype{8});
    }

    void countsWhatStandardOutputDidNotTake_data() {
        QTest::addColumn<QString>("line");
        QTest::newRow("describe") << "\"$LEDGE\" describe square.tif > /dev/full";
        QTest::newRow("json") << "\"$LEDGE\" describe square.tif --json > /dev/full";
        QTest::newRow("crs") << "\"$LEDGE\" crs find utm > /dev/full";
        QTest::newRow("transform")
            << "printf 'x,y\\n1,2\\n' | \"$LEDGE\" transform --from 4326 --to 3857 > /dev/full";
        QTest::newRow("profile") << "\"$LEDGE\" terrain profile square.tif --from 400100,6825100 "
                                    "--to 419000,6844000 --out - > /dev/full";
    }
    void countsWhatStandardOutputDidNotTake() {
        QFETCH(QString, line);
        const Ran ran = shell(line);
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.contains("standard output"), qPrintable(ran.err));
    }

    // A read through which nothing comes does not hold the program.
    void obeysWhileItWaits_data() {
        QTest::addColumn<int>("signal");
        QTest::newRow("interrupt") << SIGINT;
        QTest::newRow("terminate") << SIGTERM;
    }
    void obeysWhileItWaits() {
        QFETCH(int, signal);
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        process.start(test::kProgram, {"transform", "--from", "4326", "--to", "3857"});
        QVERIFY(process.waitForStarted());
        QTest::qWait(300);
        QCOMPARE(::kill(static_cast<pid_t>(process.processId()), signal), 0);
        QVERIFY(process.waitForFinished(10000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 1);
        QVERIFY(process.readAllStandardError().contains("stopped"));
    }

    // Small files that are endless, or a hundred thousand times what they hold.
    void boundsWhatViewsCompute() {
        QDir(m_dir.path()).mkpath("out");
        QVERIFY(run({"convert", "few/crofts.geojson", "out/bomb.gpkg"}).code == 0);
        const auto add = [&](const QString& name, const QString& rows) {
            sqlite3* db = nullptr;
            QCOMPARE(sqlite3_open(qPrintable(path("out/bomb.gpkg")), &db), SQLITE_OK);
            const QString sql =
                QString("CREATE VIEW %1 AS WITH RECURSIVE c(x) AS (SELECT 1 UNION ALL SELECT x + 1 "
                        "FROM c %2) SELECT x AS fid, (SELECT geom FROM crofts LIMIT 1) AS geom, "
                        "zeroblob(100000) AS data FROM c;"
                        "INSERT INTO gpkg_contents (table_name, data_type, identifier, srs_id) "
                        "VALUES ('%1', 'features', '%1', 4326);"
                        "INSERT INTO gpkg_geometry_columns VALUES "
                        "('%1', 'geom', 'POINT', 4326, 0, 0);")
                    .arg(name, rows);
            QCOMPARE(sqlite3_exec(db, qPrintable(sql), nullptr, nullptr, nullptr), SQLITE_OK);
            sqlite3_close(db);
        };
        add("many", "LIMIT 20000");
        const QStringList many{"convert", "out/bomb.gpkg", "out/many.gpkg", "--layer", "many"};
        const Ran ran = run(many);
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.contains("more than 256 MB") && ran.err.contains("--memory"),
                 qPrintable(ran.err));
        // 64 times the file is always fine.
        const Ran less = run(many + QStringList{"--memory", "1"});
        QVERIFY2(less.err.contains("more than") && !less.err.contains("256"), qPrintable(less.err));
        add("endless", "");
        QProcess process;
        process.setWorkingDirectory(m_dir.path());
        process.start(test::kProgram, {"describe", "out/bomb.gpkg"});
        QVERIFY(process.waitForStarted());
        QTest::qWait(500);
        QCOMPARE(process.state(), QProcess::Running);
        process.terminate();
        QVERIFY(process.waitForFinished(10000));
        QCOMPARE(process.exitCode(), 1);
        QVERIFY(process.readAllStandardError().contains("stopped"));
    }

    // Whatever is nested is nested so deep and no deeper.
    void boundsNesting_data() {
        QTest::addColumn<QByteArray>("text");
        QTest::addColumn<QString>("name");
        constexpr int kDeep = 110000;
        const auto deep = [](const QByteArray& open, const QByteArray& close) {
            return open.repeated(kDeep) + close.repeated(kDeep);
        };
        QTest::newRow("project") << "{\"ledge_project\":1,\"odd\":" + deep("[", "]") + "}"
                                 << "deep.ledge";
        QTest::newRow("groups") << "{\"ledge_project\":1,\"layers\":[" +
                                       deep("{\"id\":1,\"kind\":\"group\",\"children\":[", "]}") +
                                       "]}"
                                << "groups.ledge";
        QTest::newRow("properties")
            << "{\"type\":\"FeatureCollection\",\"features\":[{\"type\":\"Feature\","
               "\"geometry\":null,\"properties\":{\"a\":" +
                   deep("[", "]") + "}}]}"
            << "deep.geojson";
        QTest::newRow("collections")
            << "{\"type\":\"Feature\",\"properties\":{},\"geometry\":" +
                   deep("{\"type\":\"GeometryCollection\",\"geometries\":[", "]}") + "}"
            << "collections.geojson";
        QTest::newRow("CRS") << deep("PROJCS[", "]") << "crs.prj";
    }
    void boundsNesting() {
        QFETCH(QByteArray, text);
        QFETCH(QString, name);
        writeFile(name, text);
        const Ran ran =
            name.endsWith(".prj") ? run({"crs", "show", "@" + name}) : run({"describe", name});
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.startsWith("ledge: ") && ran.err.count('\n') == 1 && ran.err.size() < 600,
                 qPrintable(ran.err.left(2000)));
        QVERIFY2(ran.err.contains("deep", Qt::CaseInsensitive), qPrintable(ran.err));
    }

    void leavesNoHalfADemo() {
        if (!hasDisks()) QSKIP("small disks cannot be made here");
        const Ran ran = onDisk(600, "\"$LEDGE\" demo disk/isle --cell 60; code=$?; ls -A disk >&2; "
                                    "exit $code");
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.startsWith("ledge: ") && ran.err.contains("disk/isle/"),
                 qPrintable(ran.err));
        QVERIFY2(ran.err.contains("the disk is full"), qPrintable(ran.err));
        QCOMPARE(ran.err.count('\n'), 1);
    }

    void readsCsvWithAMarkAtItsBeginning() {
        const Ran ran =
            run({"transform", "--from", "4326", "--to", "3857"}, "\xEF\xBB\xBFx,y\n0,0\n");
        QCOMPARE(ran.code, 0);
        QVERIFY2(ran.out.startsWith("x,y\n0,"), qPrintable(ran.out));
    }

    void saysThatAPipeIsNoFile() {
        const Ran ran = shell("mkfifo pipe && \"$LEDGE\" describe pipe");
        QCOMPARE(ran.code, 1);
        QVERIFY2(ran.err.contains("pipe"), qPrintable(ran.err));
    }
};

QTEST_GUILESS_MAIN(FaultsTest)
#include "faults_test.moc"
