#include "session/class_table.h"

#include <QTemporaryDir>
#include <QTest>

#include "io/files/atomic_file.h"
#include "io/files/csv.h"
#include "io/registry.h"
#include "session/new_layers.h"

using namespace ledge;
using namespace ledge::session;

/// Numbers, formulas, filters and the sidecar of a table of classes.
class ClassTableTest : public QObject {
    Q_OBJECT

private:
    // Cells of 100 square metres; those of the last class are half as large.
    const ClassAreas kCell{{1, 30000}, {2, 50000}, {5, 10000}};

    static doc::RasterStyle moorland() {
        doc::RasterStyle style;
        style.classes = {{1, "Strand", {230, 220, 180}, true, 300},
                         {2, "Heather moor", {150, 110, 140}, true, 500},
                         {5, "Blanket bog", {120, 100, 80}, true, 200}};
        return style;
    }

private slots:
    void countsInAreasAndShares() {
        auto style = moorland();
        QCOMPARE(classNumber(style, 1, "cells", kCell), 500.0);
        QVERIFY(std::abs(classNumber(style, 1, "share", kCell) - 100.0 * 5 / 9) < 1e-12);
        QCOMPARE(classNumber(style, 1, "share", {}), 50.0);   // of cells where areas are not known
        QCOMPARE(classNumber(style, 1, "area", kCell), 5.0);  // hectares
        style.classTable.areaUnit = 2;
        QCOMPARE(classNumber(style, 1, "area", kCell), 50'000.0);
        QVERIFY(std::isnan(classNumber(style, 1, "area", {})));
        QVERIFY(std::isnan(classNumber(style, 1, "nothing", kCell)));
    }

    void computesColumnsForAllOrForPickedRows() {
        auto style = *withClassColumn(moorland(), "peat_depth");
        QCOMPARE(classColumns(style.classTable).back(), std::string("peat_depth"));
        style = *withClassFormula(style, "peat_depth", "if(value > 1, area * 2, 0)", {}, kCell);
        QCOMPARE(style.classes[0].numbers[0], std::optional(0.0));
        QCOMPARE(style.classes[1].numbers[0], std::optional(10.0));
        // Only picked rows; the others keep what they had. What has no value is empty.
        style = *withClassFormula(style, "peat_depth", "1 / (value - 5)", {1, 5}, kCell);
        QCOMPARE(style.classes[0].numbers[0], std::optional(-0.25));
        QCOMPARE(style.classes[1].numbers[0], std::optional(10.0));
        QCOMPARE(style.classes[2].numbers[0], std::nullopt);
        // A column may use those before it.
        style = *withClassColumn(style, "twice");
        style = *withClassFormula(style, "twice", "peat_depth * 2", {}, kCell);
        QCOMPARE(style.classes[1].numbers[1], std::optional(20.0));
        style = withoutClassColumn(style, "peat_depth");
        QCOMPARE(style.classes[1].numbers.size(), std::size_t{1});
        QCOMPARE(style.classes[1].numbers[0], std::optional(20.0));
    }

    void refusesWhatCannotBeAColumn() {
        const auto style = *withClassColumn(moorland(), "depth");
        for (const char* name : {"", "two words", "1st", "depth", "area", "name", "and"})
            QVERIFY2(!withClassColumn(style, name), name);
        QVERIFY(!withClassFormula(style, "area", "1", {}, kCell));
        QVERIFY(!withClassFormula(style, "depth", "area *", {}, kCell));
        QVERIFY(!withClassFormula(style, "depth", "width", {}, kCell));
    }

    void picksByConditionOrName_data() {
        QTest::addColumn<QString>("condition");
        QTest::addColumn<QList<double>>("values");
        QTest::newRow("number") << "area > 2.5" << QList<double>{1, 2};
        QTest::newRow("both") << "area > 2.5 and share < 40" << QList<double>{1};
        QTest::newRow("name") << "MOOR" << QList<double>{2};
        QTest::newRow("part of names") << "b" << QList<double>{5};
        QTest::newRow("none") << "area > 1000" << QList<double>{};
        QTest::newRow("empty") << "  " << QList<double>{};
    }
    void picksByConditionOrName() {
        QFETCH(QString, condition);
        QFETCH(QList<double>, values);
        const auto found = classesWhere(moorland(), condition.toStdString(), kCell);
        QCOMPARE(found, std::set<double>(values.begin(), values.end()));
    }

    void sumsUpColumns() {
        const auto all = classSummary(moorland(), "area", {}, kCell);
        QCOMPARE(all.count, std::size_t{3});
        QCOMPARE(all.sum, 9.0);
        QCOMPARE(all.low, 1.0);
        QCOMPARE(all.high, 5.0);
        const auto two = classSummary(moorland(), "area", {1, 5}, kCell);
        QCOMPARE(two.sum, 4.0);
        QCOMPARE(two.mean, 2.0);
        QCOMPARE(classSummary(moorland(), "area", {}, {}).count, std::size_t{0});
    }

    void survivesItsSidecar() {
        auto style = *withClassColumn(moorland(), "depth");
        style = *withClassFormula(style, "depth", "if(value = 5, 1.25, 0/0)", {}, kCell);
        style.classes[0].name = "Strand, \"raised\"";
        style.classes[1].isShown = false;
        auto bare = moorland();
        for (auto& one : bare.classes) one.name = "Class", one.colour = {};
        const auto back = withClassCsv(bare, classCsv(style));
        QVERIFY(back.has_value());
        QCOMPARE(back->classes, style.classes);
        QCOMPARE(back->classTable.columns.size(), std::size_t{1});
        const auto bad = withClassCsv(bare, "name,colour\nx,#FFFFFF\n");
        QVERIFY(!bad && !bad.error().mend.empty());
        QVERIFY(withClassCsv(bare, "value,name\n99,none\n1\n").has_value());
    }

    void isFoundBesideTheRaster() {
        QTemporaryDir folder;
        const auto path = std::filesystem::path(folder.path().toStdString()) / "cover.tif";
        RasterInfo info;
        info.width = 4, info.height = 2;
        info.bands = {{CellType::UInt8, 0.0, ""}};
        info.toWorld = {10, 0, 0, 0, -10, 20};
        Grid<float> cells(2, 4, 1.0F);
        cells(1, 2) = 2;
        QVERIFY(io::writeRaster(MemoryRaster(info, cells), path, io::Compression::None, {}));
        SourceCache cache;
        const auto plain = newLayersFor(path, cache, 0, {});
        QVERIFY(plain.has_value());
        auto style = plain->front().layers.front().as<doc::RasterLayer>()->style;
        QCOMPARE(style.classes.size(), std::size_t{2});
        style.classes[1].name = "Reed bed";
        QVERIFY(io::writeText(classSidecar(path), classCsv(style)));
        const auto named = newLayersFor(path, cache, 0, {});
        QCOMPARE(named->front().layers.front().as<doc::RasterLayer>()->style.classes,
                 style.classes);
        QVERIFY(io::writeText(classSidecar(path), "no table at all"));
        const auto refused = newLayersFor(path, cache, 0, {});
        QVERIFY(!refused);
        QCOMPARE(refused.error().what, std::string("cover.classes.csv"));
    }

    void readsCsv_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QList<QStringList>>("rows");
        QTest::newRow("plain") << "a,b\n1,2\n" << QList<QStringList>{{"a", "b"}, {"1", "2"}};
        QTest::newRow("no last break") << "a\r\n1" << QList<QStringList>{{"a"}, {"1"}};
        QTest::newRow("quotes") << "\"a,\"\"x\"\"\",\"two\nlines\"\n"
                                << QList<QStringList>{{"a,\"x\"", "two\nlines"}};
        QTest::newRow("empty cells") << ",,\n" << QList<QStringList>{{"", "", ""}};
        QTest::newRow("blank lines") << "\n\na\n\n" << QList<QStringList>{{"a"}};
        QTest::newRow("open quote") << "\"a\nb" << QList<QStringList>{{"a\nb"}};
        QTest::newRow("nothing") << "" << QList<QStringList>{};
    }
    void readsCsv() {
        QFETCH(QString, text);
        QFETCH(QList<QStringList>, rows);
        QList<QStringList> found;
        for (const auto& row : io::csvRows(text.toStdString())) {
            QStringList cells;
            for (const auto& cell : row) cells << QString::fromStdString(cell);
            found << cells;
        }
        QCOMPARE(found, rows);
        QString again;
        for (const auto& row : found) {
            QStringList cells;
            for (const auto& cell : row)
                cells << QString::fromStdString(io::csvCell(cell.toStdString()));
            again += cells.join(',') + "\n";
        }
        QCOMPARE(io::csvRows(again.toStdString()), io::csvRows(text.toStdString()));
    }
};

QTEST_GUILESS_MAIN(ClassTableTest)
#include "class_table_test.moc"
