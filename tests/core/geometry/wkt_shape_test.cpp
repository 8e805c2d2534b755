#include "core/geometry/wkt_shape.h"

#include <QTest>

using namespace ledge;

// Shapes in well-known text.
class WktShapeTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void readsAndWrites_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("written");
        const auto row = [](const char* text, const char* written = nullptr) {
            QTest::newRow(text) << text << QString(written ? written : text);
        };
        row("POINT(1 2)");
        row("point ( -1.5e3 2 )", "POINT(-1500 2)");
        row("POINT Z (1 2 3)");
        row("POINT(1 2 3)", "POINT Z (1 2 3)");
        row("POINT M (1 2 3)");
        row("POINT ZM (1 2 3 4)");
        row("POINT EMPTY");
        row("LINESTRING(0 0, 1 1, 2 0)");
        row("LINESTRING Z (0 0 5, 1 1 6)");
        row("POLYGON((0 0, 1 0, 1 1))", "POLYGON((0 0, 1 0, 1 1, 0 0))");
        row("POLYGON((0 0, 9 0, 9 9, 0 0), (5 2, 6 2, 6 3, 5 2))");
        row("MULTIPOINT(1 2, 3 4)", "MULTIPOINT((1 2), (3 4))");
        row("MULTIPOINT((1 2), (3 4))");
        row("MULTILINESTRING((0 0, 1 1), (2 2, 3 3))");
        row("MULTIPOLYGON(((0 0, 1 0, 1 1, 0 0)), ((5 5, 6 5, 6 6, 5 5), (5.5 5.2, 5.6 5.2, 5.6 "
            "5.3, 5.5 5.2)))");
    }
    void readsAndWrites() {
        QFETCH(QString, text);
        QFETCH(QString, written);
        const auto read = shapeFromWkt(text.toStdString());
        QVERIFY2(read, read ? "" : read.error().text().c_str());
        QCOMPARE(QString::fromStdString(wktOf(*read)), written);
        const auto again = shapeFromWkt(written.toStdString());
        QVERIFY(again && *again == *read);
    }
    void refuses_data() {
        QTest::addColumn<QString>("says");
        QTest::newRow("CIRCLE(1 2)") << "begins with POINT";
        QTest::newRow("POINT(1)") << "two numbers";
        QTest::newRow("POINT(1 2") << "\")\" is missing";
        QTest::newRow("POINT 1 2") << "\"(\" is missing";
        QTest::newRow("LINESTRING(1 2)") << "two points";
        QTest::newRow("POLYGON((0 0, 1 1))") << "three corners";
        QTest::newRow("POINT(1 2) POINT(3 4)") << "left over";
        QTest::newRow("POINT X (1 2)") << "none of Z";
        QTest::newRow("GEOMETRYCOLLECTION(POINT(1 2))") << "several kinds";
        QTest::newRow("") << "begins with POINT";
    }
    void refuses() {
        QFETCH(QString, says);
        const auto read = shapeFromWkt(QTest::currentDataTag());
        QVERIFY(!read);
        QVERIFY2(QString::fromStdString(read.error().text()).contains(says),
                 read.error().text().c_str());
    }
};

QTEST_APPLESS_MAIN(WktShapeTest)
#include "wkt_shape_test.moc"
