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
    // What a database can say of a condition it says itself: the same as of a file that cannot.
    void answersAlikeFromADatabase() {
        QCOMPARE(run({"convert", "isle/crofts.shp", "crofts.gpkg"}).code, 0);
        for (const char* keep :
             {"sheep > 20 AND use = 'hay'", "sheep IN (1, 2, 3) OR sheep IS NULL",
              "sheep > mean(sheep)", "area_ha > 1 AND sheep > mean(sheep)"}) {
            const auto from = [&](const QString& file) {
                return lines(run({"ask", file, "--keep", keep, "--columns", "croft,sheep"}));
            };
            QVERIFY2(from("crofts.gpkg").size() > 1, keep);
            QCOMPARE(from("crofts.gpkg"), from("isle/crofts.shp"));
            const auto share = [&](const QString& file) {
                return run({"ask", file, "--keep", keep, "--columns", "croft", "--compute",
                            "share=sheep / sum(sheep)"})
                    .out;
            };
            QCOMPARE(share("crofts.gpkg"), share("isle/crofts.shp"));
            const auto sum = [&](const QString& file) {
                return run({"summarise", file, "--keep", keep, "--column", "sheep"}).out;
            };
            QCOMPARE(sum("crofts.gpkg"), sum("isle/crofts.shp"));
        }
    }
    void asksHowShapesStand() {
        const auto count = [this](const char* relation) {
            return run({"ask", "isle/crofts.shp", "--near", "isle/hill_paths.geojson", "--relation",
                        relation, "--count"})
                .out.toInt();
        };
        const int all = run({"ask", "isle/crofts.shp", "--count"}).out.toInt();
        QVERIFY(count("intersects") > 0);
        QCOMPARE(count("intersects") + count("disjoint"), all);
        QCOMPARE(count("within"), 0);  // no area lies in a line
        QVERIFY(count("crosses") <= count("intersects"));
        QCOMPARE(run({"ask", "isle/crofts.shp", "--near", "isle/hill_paths.geojson", "--relation",
                      "beside"})
                     .code,
                 1);
        QCOMPARE(run({"ask", "isle/crofts.shp", "--relation", "within"}).code, 2);
    }
    void readsFilesAsTold() {
        writeFile("register.csv", "name;price\nN\xE6s;4,5\n");
        const auto guessed = run({"ask", "register.csv"});
        QCOMPARE(guessed.out, QString::fromUtf8("name,price\nNæs,4.5\n"));
        const auto told = run({"ask", "register.csv", "--encoding", "ISO-8859-5", "--header", "no",
                               "--decimals", "."});
        QCOMPARE(told.out, QString::fromUtf8("column1,column2\nname,price\nNцs,\"4,5\"\n"));
        QCOMPARE(run({"ask", "register.csv", "--decimals", "x"}).code, 2);
    }
    void tellsLimitsBeforeItWrites() {
        const auto ran =
            run({"convert", "isle/crofts.shp", "long.shp", "--compute", "a_very_long_name=sheep"});
        QCOMPARE(ran.code, 0);
        QVERIFY2(ran.err.contains("names are cut to 10 bytes: a_very_long_name"),
                 qPrintable(ran.err));
        QVERIFY(run({"convert", "isle/crofts.shp", "none.gpkg"}).err.isEmpty());
    }
    void gridsPoints() {
        QCOMPARE(run({"derive", "grid", "isle/places.geojson", "people.tif", "--cell", "0.05",
                      "--method", "count", "--field", ""})
                     .code,
                 0);
        const auto described = run({"describe", "people.tif", "--numbers", "--json"});
        QCOMPARE(described.code, 0);
        QVERIFY2(described.out.contains("\"max\""), qPrintable(described.out));
        const auto none = run({"derive", "grid", "isle/crofts.shp", "no.tif", "--cell", "100"});
        QCOMPARE(none.code, 1);
        QVERIFY2(none.err.contains("has no heights"), qPrintable(none.err));
        QCOMPARE(run({"derive", "grid", "isle/places.geojson", "no.tif", "--cell", "0"}).code, 2);
    }
    void givesTheLargestShare() {
        QCOMPARE(run({"derive", "share", "isle/crofts.shp", "share.gpkg", "--with",
                      "isle/council.gpkg", "--with-layer", "districts", "--fields", "name"})
                     .code,
                 0);
        const auto rows =
            lines(run({"ask", "share.gpkg", "--columns", "croft,name,share_percent"}));
        QVERIFY(rows.size() > 10);
        int inside = 0;
        for (const QString& row : rows.mid(1)) {
            const double share = row.split(',').last().toDouble();
            QVERIFY(share >= 0 && share <= 100);
            inside += share > 99 ? 1 : 0;
        }
        QVERIFY(inside > rows.size() / 2);
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
