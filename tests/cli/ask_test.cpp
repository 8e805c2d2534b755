#include <QJsonDocument>
#include <QJsonObject>

#include "support/program.h"

/// `ledge ask`, `ledge summarise --column` and `ledge convert --keep` on the demo's data.
class AskTest : public QObject, ledge::test::Program {
    Q_OBJECT

private:
    static QStringList lines(const Ran& ran) { return ran.out.split('\n', Qt::SkipEmptyParts); }

private slots:
    void initTestCase() { QCOMPARE(run({"demo", "isle", "--cell", "30"}).code, 0); }

    void answersAsCsv() {
        const auto all = run({"ask", "isle/crofts.shp"});
        QCOMPARE(all.code, 0);
        QCOMPARE(lines(all).front(), QString("croft,township,area_ha,use,sheep"));
        const auto some = run({"ask", "isle/crofts.shp", "--keep", "sheep > 20 AND use = 'hay'",
                               "--columns", "sheep,croft", "--compute", "twice=sheep * 2"});
        QCOMPARE(some.code, 0);
        QCOMPARE(lines(some).front(), QString("sheep,croft,twice"));
        QVERIFY(lines(some).size() > 1 && lines(some).size() < lines(all).size());
        for (const QString& line : lines(some).mid(1)) {
            const auto cells = line.split(',');
            QVERIFY(cells[0].toInt() > 20);
            QCOMPARE(cells[2].toInt(), 2 * cells[0].toInt());
        }
        QCOMPARE(run({"ask", "isle/crofts.shp", "--count"}).out.toInt(), lines(all).size() - 1);
    }
    void asksInJsonToo() {
        const QString json = R"({"op":"and","args":[{"op":">","args":[{"property":"sheep"},20]},)"
                             R"({"op":"=","args":[{"property":"use"},"hay"]}]})";
        const auto text = run({"ask", "isle/crofts.shp", "--keep", "sheep > 20 AND use = 'hay'"});
        QCOMPARE(run({"ask", "isle/crofts.shp", "--keep", json}).out, text.out);
        QCOMPARE(run({"ask", "isle/crofts.shp", "--keep", "sheep > 20 AND use = 'hay'", "--as",
                      "cql2-json"})
                     .out.trimmed(),
                 json);
        QCOMPARE(run({"ask", "isle/crofts.shp", "--keep", "{\"op\":"}).code, 1);
    }
    void answersAsGeoJson() {
        const auto ran =
            run({"ask", "isle/crofts.shp", "--keep", "use = 'hay'", "--as", "geojson"});
        QCOMPARE(ran.code, 0);
        const auto json = QJsonDocument::fromJson(ran.out.toUtf8()).object();
        QCOMPARE(json["type"].toString(), QString("FeatureCollection"));
    }
    // Which crofts lie within 500 m of a path to be re-routed, and how many sheep: the list, the
    // sum and a file of them say the same.
    void answersTheCouncilsQuestion() {
        const QStringList near{"--near",          "isle/hill_paths.geojson",
                               "--near-keep",     "condition = 'to be re-routed'",
                               "--within-metres", "500"};
        const auto list = run(QStringList{"ask", "isle/crofts.shp"} + near);
        QCOMPARE(list.code, 0);
        int sheep = 0, missing = 0;
        for (const QString& line : lines(list).mid(1)) {
            const QString last = line.split(',').last();
            last.isEmpty() ? ++missing : sheep += last.toInt();
        }
        QVERIFY(lines(list).size() > 2);
        const auto sum =
            run(QStringList{"summarise", "isle/crofts.shp", "--column", "sheep", "--json"} + near);
        const auto json = QJsonDocument::fromJson(sum.out.toUtf8()).object();
        QCOMPARE(json["sum"].toInt(), sheep);
        QCOMPARE(json["missing"].toInt(), missing);
        QCOMPARE(json["count"].toInt() + missing, int(lines(list).size()) - 1);
        QCOMPARE(run(QStringList{"convert", "isle/crofts.shp", "near.gpkg"} + near).code, 0);
        QCOMPARE(run({"ask", "near.gpkg", "--count"}).out.toInt(), int(lines(list).size()) - 1);
        // Farther off there are more, at no distance those that a path crosses.
        QStringList far = near;
        far.last() = "5000";
        QVERIFY(run(QStringList{"ask", "isle/crofts.shp", "--count"} + far).out.toInt() >=
                lines(list).size() - 1);
    }
    void sumsByGroups() {
        const auto ran = run({"summarise", "isle/crofts.shp", "--column", "sheep", "--by", "use"});
        QCOMPARE(ran.code, 0);
        QCOMPARE(lines(ran).front(),
                 QString("use,count,missing,distinct,sum,mean,median,min,max,stddev"));
        double sum = 0;
        for (const QString& line : lines(ran).mid(1)) sum += line.split(',')[4].toDouble();
        const auto whole =
            run({"summarise", "isle/crofts.shp", "--column", "sheep", "--json"}).out.toUtf8();
        QCOMPARE(QJsonDocument::fromJson(whole).object()["sum"].toDouble(), sum);
    }
    void keepsColumnsAndRows() {
        QCOMPARE(run({"convert", "isle/crofts.shp", "some.gpkg", "--keep", "sheep > 20",
                      "--columns", "croft", "--compute", "share=round(100 * sheep / sum(sheep), 1)",
                      "--to-crs", "EPSG:4326"})
                     .code,
                 0);
        const auto made = run({"ask", "some.gpkg"});
        QCOMPARE(lines(made).front(), QString("croft,share"));
        QCOMPARE(lines(made).size() - 1,
                 run({"ask", "isle/crofts.shp", "--keep", "sheep > 20", "--count"}).out.toInt());
    }
    void saysWhatIsWrong_data() {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<QString>("says");
        const auto row = [](const char* name, const QStringList& arguments, const char* says) {
            QTest::newRow(name) << arguments << says;
        };
        row("field", {"ask", "isle/crofts.shp", "--keep", "shep > 3"}, "did you mean sheep?");
        row("kind", {"ask", "isle/crofts.shp", "--keep", "sheep"}, "compare it");
        row("column", {"ask", "isle/crofts.shp", "--columns", "acreage"}, "acreage");
        row("raster", {"ask", "isle/island_dem.tif", "--keep", "a = 1"}, "is a raster");
        row("formula", {"ask", "isle/crofts.shp", "--compute", "sheep * 2"}, "NAME=FORMULA");
        row("near", {"ask", "isle/crofts.shp", "--near", "isle/none.gpkg"}, "no such file");
        row("shape", {"summarise", "isle/crofts.shp", "--column", "centroid()"}, "wkt(");
        row("nothing", {"summarise", "isle/crofts.shp"}, "--column");
        row("raster kept", {"convert", "isle/island_dem.tif", "x.tif", "--keep", "a = 1"},
            "has no features");
    }
    void saysWhatIsWrong() {
        QFETCH(QStringList, arguments);
        QFETCH(QString, says);
        const auto ran = run(arguments);
        QCOMPARE(ran.code, 1);
        QVERIFY(ran.out.isEmpty());
        QCOMPARE(ran.err.count('\n'), 1);
        QVERIFY2(ran.err.contains(says), qPrintable(ran.err));
    }
};

QTEST_GUILESS_MAIN(AskTest)
#include "ask_test.moc"
