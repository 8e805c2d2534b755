#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "support/program.h"

/// `ledge classify`, `ledge style` and `ledge labels` on the demo.
class StyleCommandsTest : public QObject, ledge::test::Program {
    Q_OBJECT

private:
    QJsonObject layer(const QString& name) const {
        const auto project = QJsonDocument::fromJson(bytesOf("isle/skerravoe.ledge")).object();
        std::function<QJsonObject(const QJsonArray&)> find = [&](const QJsonArray& layers) {
            for (const QJsonValue& one : layers) {
                if (one.toObject().value("name").toString() == name) return one.toObject();
                const QJsonObject within = find(one.toObject().value("layers").toArray());
                if (!within.isEmpty()) return within;
            }
            return QJsonObject();
        };
        return find(project.value("layers").toArray());
    }

    QJsonArray pinsOfPlaces() const {
        const QJsonArray sets = layer("Places").value("labels").toArray();
        return sets.at(0).toObject().value("pins").toArray();
    }

private slots:
    void initTestCase() { QCOMPARE(run({"demo", "isle", "--cell", "30", "--quiet"}).code, 0); }

    void classifies_data() {
        QTest::addColumn<QString>("method");
        for (const char* method : {"equal", "quantile", "natural", "stddev", "round"})
            QTest::newRow(method) << method;
    }
    void classifies() {
        QFETCH(QString, method);
        const auto ran = run({"classify", "isle/crofts.shp", "--column", "sheep", "--method",
                              method, "--classes", "4", "--json"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        const auto json = QJsonDocument::fromJson(ran.out.toUtf8()).object();
        const auto breaks = json["breaks"].toArray(), counts = json["counts"].toArray();
        QCOMPARE(breaks.size(), counts.size() + 1);
        QVERIFY(counts.size() >= 2 && counts.size() <= 4);
        // The same counts as asking for each class by itself.
        int sum = 0;
        for (int i = 0; i < counts.size(); ++i) {
            QString keep = QString("sheep >= %1").arg(breaks[i].toDouble(), 0, 'g', 17);
            if (i + 1 < counts.size())
                keep += QString(" AND sheep < %1").arg(breaks[i + 1].toDouble(), 0, 'g', 17);
            const auto asked = run({"ask", "isle/crofts.shp", "--keep", keep, "--count"});
            QCOMPARE(asked.out.toInt(), counts[i].toInt());
            sum += counts[i].toInt();
        }
        const int all = run({"ask", "isle/crofts.shp", "--count"}).out.toInt();
        QCOMPARE(sum + json["missing"].toInt(), all);
    }
    void classifiesRates() {
        const auto ran = run({"classify", "isle/council.gpkg", "--layer", "districts", "--column",
                              "sheep", "--per", "households", "--json"});
        QVERIFY2(ran.code == 0, qPrintable(ran.err));
        const auto rate = QJsonDocument::fromJson(ran.out.toUtf8()).object();
        const auto formula = run({"classify", "isle/council.gpkg", "--layer", "districts",
                                  "--column", "sheep / households", "--json"});
        QCOMPARE(QJsonDocument::fromJson(formula.out.toUtf8()).object(), rate);
        QCOMPARE(rate["missing"].toInt(), 1);
        const auto text =
            run({"classify", "isle/council.gpkg", "--layer", "districts", "--column", "sheep"});
        QVERIFY(text.out.startsWith("from,to,count\n"));
        QVERIFY(text.err.contains("without a number"));
    }
    void refuses_data() {
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("says");
        const auto row = [](const QStringList& words, int code, const char* says) {
            QTest::newRow(qPrintable(words.join(' '))) << words << code << says;
        };
        row({"classify", "isle/crofts.shp", "--column", "use"}, 1, "no numbers");
        row({"classify", "isle/crofts.shp", "--column", "goats"}, 1, "goats");
        row({"classify", "isle/crofts.shp", "--column", "sheep", "--method", "best"}, 2, "best");
        row({"classify", "isle/crofts.shp", "--column", "sheep - 20", "--method", "geometric"}, 1,
            "one sign");
        row({"style", "isle/skerravoe.ledge", "Goats", "--save", "x.ledgestyle"}, 1, "Goats");
        row({"style", "isle/skerravoe.ledge", "Crofts", "--save", "x.css"}, 1, ".ledgestyle");
        row({"style", "isle/skerravoe.ledge", "Crofts"}, 1, "--save");
        row({"style", "isle/skerravoe.ledge", "Crofts", "--load", "isle/crofts.shp"}, 1, "style");
        row({"style", "isle/skerravoe.ledge", "Height tint", "--save", "x.sld"}, 1, "features");
        row({"labels", "isle/skerravoe.ledge", "Places", "--set", "9", "--save", "x.csv"}, 1,
            "label set 9");
        row({"labels", "isle/skerravoe.ledge", "Places", "--load", "isle/crofts.dbf"}, 1, "column");
    }
    void refuses() {
        QFETCH(QStringList, words);
        QFETCH(int, code);
        QFETCH(QString, says);
        const auto before = bytesOf("isle/skerravoe.ledge");
        const auto ran = run(words);
        QVERIFY2(ran.code == code, qPrintable(ran.err));
        QVERIFY2(ran.err.contains(says), qPrintable(ran.err));
        QCOMPARE(bytesOf("isle/skerravoe.ledge"), before);
    }

    void carriesStyles_data() {
        QTest::addColumn<QString>("file");
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("to");
        QTest::newRow("ours") << "paths.ledgestyle"
                              << "Hill paths"
                              << "Roads";
        QTest::newRow("sld") << "paths.sld"
                             << "Hill paths"
                             << "Streams";
        QTest::newRow("tint") << "tint.ledgestyle"
                              << "Height tint"
                              << "Old survey grid";
    }
    void carriesStyles() {
        QFETCH(QString, file);
        QFETCH(QString, from);
        QFETCH(QString, to);
        const auto saved = run({"style", "isle/skerravoe.ledge", from, "--save", file});
        QVERIFY2(saved.code == 0, qPrintable(saved.err));
        QCOMPARE(run({"style", "isle/skerravoe.ledge", from, "--save", file}).code, 1);
        QCOMPARE(run({"style", "isle/skerravoe.ledge", from, "--save", file, "--replace"}).code, 0);
        QVERIFY(!(layer(from).value("style") == layer(to).value("style")));
        const auto loaded = run({"style", "isle/skerravoe.ledge", to, "--load", file});
        QVERIFY2(loaded.code == 0, qPrintable(loaded.err));
        if (file.endsWith(".ledgestyle")) QCOMPARE(layer(to).value("style"), layer(from).value("style"));
        if (file.endsWith(".sld")) {
            // Categories come back as rules with the same conditions.
            const auto rules = layer(to).value("style").toObject().value("rules").toArray();
            QCOMPARE(rules.size(), 3);
            QVERIFY(rules.at(0).toObject().value("keep").toString().contains("to be re-routed"));
        }
        // Twice is as once.
        const auto once = bytesOf("isle/skerravoe.ledge");
        QCOMPARE(run({"style", "isle/skerravoe.ledge", to, "--load", file}).code, 0);
        QCOMPARE(bytesOf("isle/skerravoe.ledge"), once);
    }

    void carriesLabelsPlacedByHand() {
        QCOMPARE(run({"edit", "isle/skerravoe.ledge", "label-pin", "layer=Places", "key=2",
                      "right-mm=4", "down-mm=-3.5", "turn=10", "scale=50000", "text=Old, \"Ness\""})
                     .code,
                 0);
        QCOMPARE(run({"edit", "isle/skerravoe.ledge", "label-pin", "layer=Places", "key=3",
                      "hidden=yes"})
                     .code,
                 0);
        QCOMPARE(run({"labels", "isle/skerravoe.ledge", "Places", "--save", "pins.csv"}).code, 0);
        const auto pins = pinsOfPlaces();
        QCOMPARE(pins.size(), 2);
        QCOMPARE(run({"edit", "isle/skerravoe.ledge", "label-unpin", "layer=Places"}).code, 0);
        QVERIFY(pinsOfPlaces().isEmpty());
        const auto back = run({"labels", "isle/skerravoe.ledge", "Places", "--load", "pins.csv"});
        QVERIFY2(back.code == 0, qPrintable(back.err));
        QVERIFY(back.out.startsWith("2 labels"));
        QCOMPARE(pinsOfPlaces(), pins);
        writeFile("bad.csv", "key,right_mm\n1,far\n");
        const auto bad = run({"labels", "isle/skerravoe.ledge", "Places", "--load", "bad.csv"});
        QVERIFY(bad.code == 1 && bad.err.contains("line 2"));
    }
};

QTEST_GUILESS_MAIN(StyleCommandsTest)
#include "style_commands_test.moc"
