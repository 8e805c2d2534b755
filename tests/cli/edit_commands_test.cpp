#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include "support/program.h"

/// `ledge edit`, `ledge edits` and `ledge save-edits` as scripts use them: on a real project, every
/// edit by its name, doing one twice being doing it once.
class EditCommandsTest : public QObject, ledge::test::Program {
    Q_OBJECT

private:
    QJsonObject project() const {
        return QJsonDocument::fromJson(bytesOf("isle/work.ledge")).object();
    }
    QJsonObject named(const char* list, const QString& name) const {
        const QJsonArray all = project()[list].toArray();
        for (const QJsonValue& one : all)
            if (one.toObject()["name"] == name) return one.toObject();
        return {};
    }
    QJsonArray edits() const {
        return QJsonDocument::fromJson(run({"edits", "--json"}).out.toUtf8()).array();
    }

private slots:
    void initTestCase() { QCOMPARE(run({"demo", "isle", "--cell", "60"}).code, 0); }
    void init() {
        QFile::remove(m_dir.path() + "/isle/work.ledge");
        QDir folder(m_dir.path() + "/isle");
        const QString made = folder.entryList({"*.ledge"}).first();
        QVERIFY(QFile::copy(folder.filePath(made), folder.filePath("work.ledge")));
    }

    void listsWhatEditsTake() {
        const QJsonArray all = edits();
        QVERIFY(all.size() > 50);
        for (const QJsonValue& value : all) {
            const QJsonObject edit = value.toObject();
            QVERIFY(!edit["name"].toString().isEmpty());
            QVERIFY2(!edit["arguments"].toArray().isEmpty(), qPrintable(edit["name"].toString()));
            // Alone it says the same in words.
            const Ran one = run({"edits", edit["name"].toString()});
            QCOMPARE(one.code, 0);
            for (const QJsonValue& argument : edit["arguments"].toArray())
                QVERIFY2(one.out.contains(argument.toObject()["name"].toString()),
                         qPrintable(one.out));
        }
        QCOMPARE(run({"edits", "no-such-edit"}).code, 1);
    }

    // Without its arguments each edit says in one line what it needs, and changes nothing.
    void refusesEachEditWithoutWords_data() {
        QTest::addColumn<QString>("name");
        QTest::addColumn<bool>("needsWords");
        for (const QJsonValue& value : edits()) {
            bool needs = false;
            for (const QJsonValue& argument : value.toObject()["arguments"].toArray())
                needs = needs || argument.toObject()["required"].toBool();
            const QString name = value.toObject()["name"].toString();
            QTest::newRow(qPrintable(name)) << name << needs;
        }
    }
    void refusesEachEditWithoutWords() {
        QFETCH(QString, name);
        QFETCH(bool, needsWords);
        const QByteArray before = bytesOf("isle/work.ledge");
        const Ran bare = run({"edit", "isle/work.ledge", name});
        QCOMPARE(bare.code != 0, needsWords);
        if (needsWords) {
            QCOMPARE(bare.err.count('\n'), 1);
            QVERIFY2(bare.err.contains("is missing"), qPrintable(bare.err));
        }
        const Ran wrong = run({"edit", "isle/work.ledge", name, "no_such_argument=1"});
        QCOMPARE(wrong.code, 1);
        QVERIFY2(wrong.err.contains("it has: "), qPrintable(wrong.err));
        QCOMPARE(bytesOf("isle/work.ledge"), before);
    }

    void changesTheProjectOnce_data() {
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<QString>("said");
        const auto row = [](const QStringList& words, const char* said) {
            QTest::newRow(qPrintable(words.join(' '))) << words << said;
        };
        row({"layer-opacity", "layer=Crofts", "percent=37"}, "Opacity of Crofts");
        row({"layer-blend", "layer=Crofts", "mode=multiply"}, "Blend mode of Crofts");
        row({"layer-set", "layer=Crofts", "member=style.look.stroke_mm", "value=0.6"},
            "Look stroke of Crofts");
        row({"layer-set", "layer=Crofts", "member=labels.0", "value={\"on\":true,\"size_pt\":11}"},
            "Labels of Crofts");
        row({"light", "layer=Light 315/40", "azimuth=300", "altitude=25"}, "Light of Light 315/40");
        row({"light-keep", "layer=Light 315/40", "azimuth=10", "altitude=20"},
            "Keep light of Light 315/40");
        row({"light-add", "beside=Light 315/40", "azimuth=200", "altitude=55"}, "Add light");
        row({"contour-interval", "layer=Contours 25 m", "metres=20"},
            "Contour interval of Contours 25 m");
        row({"units", "lengths=nautical miles"}, "Units");
        row({"grid-lines-add", "name=Fine grid", "lines=grid", "crs=EPSG:3035"}, "Add Fine grid");
        row({"profile-save", "name=Ridge", "line=400000,6830000,402000,6831000", "crs=EPSG:32629",
             "sources=Island DEM"},
            "Keep profile Ridge");
        row({"source-credit", "source=Island DEM", "credit=the surveyors"}, "Credit of Island DEM");
        row({"source-set", "source=Island DEM", "member=height_unit", "value=foot"},
            "Height unit of Island DEM");
        row({"map-crs", "crs=EPSG:3035"}, "CRS of map");
        row({"sheet-add", "name=Poster", "width=594", "height=420", "centre=401000,6830000",
             "scale=25000"},
            "New sheet Poster");
        row({"item-add", "sheet=Overview", "kind=text", "name=Note", "rect=10,10,40,8",
             "text=Draft"},
            "Add Note");
        row({"panel-place", "sheet=Overview", "item=Main map", "centre=401000,6830000",
             "scale=12500", "rotation=5"},
            "Set where Main map looks");
        row({"panel-keep", "sheet=Overview", "item=Main map", "keep=yes"},
            "Keep layers of Main map");
        row({"legend-name", "sheet=Overview", "item=Key", "layer=Crofts", "name=Holdings"},
            "Name in Key");
        row({"legend-listed", "sheet=Overview", "item=Key", "layer=Crofts", "listed=no"},
            "Entries of Key");
        row({"view-save", "name=Corner", "centre=401000,6830000", "scale=10000"},
            "Save view Corner");
        row({"cell-set", "source=Crofts", "row=2", "field=name", "value=x"}, "name in Crofts");
    }
    void changesTheProjectOnce() {
        QFETCH(QStringList, words);
        QFETCH(QString, said);
        const QByteArray before = bytesOf("isle/work.ledge");
        const Ran once = run(QStringList{"edit", "isle/work.ledge"} + words);
        QVERIFY2(once.code == 0, qPrintable(once.err));
        QCOMPARE(once.out.trimmed(), said);
        const QByteArray after = bytesOf("isle/work.ledge");
        QVERIFY(after != before);
        // What follows a name (a light that is named anew) is told by id the second time.
        const Ran twice = run(QStringList{"edit", "isle/work.ledge"} + words);
        if (twice.code == 0) QCOMPARE(bytesOf("isle/work.ledge"), after);
        // It opens, and its parts are all there.
        QCOMPARE(run({"describe", "isle/work.ledge"}).code, 0);
        QCOMPARE(run({"edit", "isle/work.ledge", "project-name", "name=Again", "--quiet"}).out,
                 QString());
    }

    void saysWhatCannotBe_data() {
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<QString>("said");
        const auto row = [](const QStringList& words, const char* said) {
            QTest::newRow(qPrintable(words.join(' '))) << words << said;
        };
        row({"layer-opacity", "layer=Nowhere", "percent=3"}, "is not in the project (there are: ");
        row({"layer-opacity", "layer=Crofts", "percent=300"}, "0 to 100");
        row({"layer-opacity", "layer=Crofts", "percent=many"}, "\"many\" cannot be used");
        row({"light", "layer=Crofts", "azimuth=1", "altitude=2"}, "is no hillshade");
        row({"contour-interval", "layer=Crofts", "metres=5"}, "is no contour layer");
        row({"panel-scale", "sheet=Overview", "item=Key", "scale=5000"}, "is no map panel");
        row({"legend-name", "sheet=Overview", "item=Title", "layer=Crofts", "name=x"},
            "is no legend");
        row({"item-add", "sheet=Overview", "kind=lamp", "name=x", "rect=1,2,3,4"}, "is no choice");
        row({"item-rect", "sheet=Overview", "item=Key", "rect=1,2,3"}, "is no rectangle");
        row({"map-crs", "crs=EPSG:1"}, "EPSG");
        row({"geometry-set", "source=Crofts", "row=1", "shape=POLYGON ((1 2, 3 4"},
            "well-known text");
        row({"layer-opacity", "layer=Crofts", "percent"}, "is no key=value");
        row({"layer-opacity", "layer=Crofts", "percent=1", "percent=2"}, "is given twice");
        row({"fly", "x=1"}, "there is none of this name");
    }
    void saysWhatCannotBe() {
        QFETCH(QStringList, words);
        QFETCH(QString, said);
        const QByteArray before = bytesOf("isle/work.ledge");
        const Ran ran = run(QStringList{"edit", "isle/work.ledge"} + words);
        QCOMPARE(ran.code, 1);
        QCOMPARE(ran.err.count('\n'), 1);
        QVERIFY2(ran.err.contains(said), qPrintable(ran.err));
        QCOMPARE(bytesOf("isle/work.ledge"), before);
    }

    // From an edit in the project to the file it is of, and nothing else of that file changes.
    void savesEditsOfTables() {
        const auto rows = [this](const QString& layer) {
            QStringList words{"convert", "isle/council.gpkg", "out.geojson", "--layer",
                              layer,     "--replace"};
            if (run(words).code != 0) return QJsonArray();
            return QJsonDocument::fromJson(bytesOf("out.geojson")).object()["features"].toArray();
        };
        const QJsonArray gauges = rows("rain_gauges"), districts = rows("districts");
        QVERIFY(gauges.size() > 3 && districts.size() > 1);
        const QByteArray file = bytesOf("isle/council.gpkg");
        const QStringList edit{"edit", "isle/work.ledge"};
        for (const QStringList& words :
             {QStringList{"column-add", "source=Rain gauges", "name=keeper", "type=text"},
              QStringList{"cell-set", "source=Rain gauges", "row=2", "field=keeper", "value=Ann"},
              QStringList{"cell-set", "source=Rain gauges", "row=2", "field=keeper", "value=Bo"},
              QStringList{"row-remove", "source=Rain gauges", "row=1"}})
            QCOMPARE(run(edit + words).code, 0);
        QCOMPARE(named("sources", "Rain gauges")["edits"].toArray().size(), 3);
        QCOMPARE(bytesOf("isle/council.gpkg"), file);  // not yet
        const Ran other = run({"save-edits", "isle/work.ledge", "--source", "Crofts"});
        QVERIFY(other.code == 0 && other.out.contains("nothing to save"));
        QCOMPARE(run({"save-edits", "isle/work.ledge", "--source", "Nobody"}).code, 1);
        const Ran saved = run({"save-edits", "isle/work.ledge"});
        QVERIFY2(saved.code == 0, qPrintable(saved.err));
        QVERIFY2(saved.out.contains("saved 3 edits of Rain gauges"), qPrintable(saved.out));
        QVERIFY(!named("sources", "Rain gauges").contains("edits"));
        const QJsonArray now = rows("rain_gauges");
        QCOMPARE(now.size(), gauges.size() - 1);
        int keepers = 0;
        for (const QJsonValue& row : now)
            keepers += row.toObject()["properties"].toObject()["keeper"] == "Bo" ? 1 : 0;
        QCOMPARE(keepers, 1);
        QCOMPARE(rows("districts"), districts);
        QVERIFY(run({"save-edits", "isle/work.ledge"}).out.contains("nothing to save"));
    }

    void keepsWhatALaterVersionWrote() {
        QJsonObject all = project();
        all["weather"] = QJsonObject{{"wind", "fresh"}};
        QFile file(m_dir.path() + "/isle/work.ledge");
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(QJsonDocument(all).toJson());
        file.close();
        QCOMPARE(
            run({"edit", "isle/work.ledge", "layer-opacity", "layer=Crofts", "percent=11"}).code,
            0);
        QCOMPARE(project()["weather"].toObject()["wind"].toString(), QString("fresh"));
    }
};

QTEST_GUILESS_MAIN(EditCommandsTest)
#include "edit_commands_test.moc"
