#include "core/query/field_rename.h"

#include <QTest>

#include "core/query/tree.h"

using namespace ledge;

/// Formulas go on meaning the same when a field gets another name.
class FieldRenameTest : public QObject {
    Q_OBJECT

private slots:
    void renames_data() {
        QTest::addColumn<QString>("said");
        QTest::addColumn<QString>("to");
        QTest::addColumn<QString>("becomes");
        const auto row = [](const char* said, const char* to, const char* becomes) {
            QTest::addRow("%s to %s", said, to) << said << to << becomes;
        };
        row("sheep", "ewes", "ewes");
        row("sheep", "ewes and rams", "ewes and rams");  // alone it is a name, not a formula
        row("sheep / area_ha", "ewes", "ewes / area_ha");
        row("sheep/sheep+1", "e", "e/e+1");
        row("sheep / area_ha", "ewes and rams", "\"ewes and rams\" / area_ha");
        row("\"sheep\" > 3", "ewes", "ewes > 3");
        row("sum( sheep , use )  > 3", "ewes", "sum( ewes , use )  > 3");
        row("use = 'sheep'", "ewes", "use = 'sheep'");
        row("sheep_old > sheep", "ewes", "sheep_old > ewes");
        row("use IN ('a', 'b') AND NOT (sheep BETWEEN 1 AND sheep)", "ewes",
            "use IN ('a', 'b') AND NOT (ewes BETWEEN 1 AND ewes)");
        row("S_INTERSECTS(geom, POINT(1 2)) AND sheep IS NULL", "ewes",
            "S_INTERSECTS(geom, POINT(1 2)) AND ewes IS NULL");
        row("sheep >", "ewes", "sheep >");  // cannot be read: as it is typed
        row("", "ewes", "");
        row("area_ha", "ewes", "area_ha");
        row("'N\xC3\xA6s' || use = sheep", "ewes", "'N\xC3\xA6s' || use = sheep");
        row("casei(use) = 'N\xC3\xA6s' AND sheep > 2", "\xC3\xA5r",
            "casei(use) = 'N\xC3\xA6s' AND \xC3\xA5r > 2");
    }
    void renames() {
        QFETCH(QString, said);
        QFETCH(QString, to);
        QFETCH(QString, becomes);
        const std::string done =
            query::withFieldRenamed(said.toStdString(), "sheep", to.toStdString());
        QCOMPARE(QString::fromStdString(done), becomes);
        if (done == to.toStdString()) return;
        // What could be read can be read, and there is no way back but to the same.
        QCOMPARE(query::parse(done).has_value(), query::parse(said.toStdString()).has_value());
        const std::string back = query::withFieldRenamed(done, to.toStdString(), "sheep");
        const auto one = query::parse(said.toStdString()), other = query::parse(back);
        if (one && other) QVERIFY(query::isAlike(**one, **other));
    }
};

QTEST_APPLESS_MAIN(FieldRenameTest)
#include "field_rename_test.moc"
