#include "core/globe/grid_lines.h"

#include <QTest>

using namespace ledge;
using namespace ledge::crs;
using namespace ledge::globe;

class GridLinesTest : public QObject {
    Q_OBJECT

private slots:
    void followsMeridiansAndParallels() {
        const CrsPtr wgs84 = *crsFromCode(4326), utm = *crsFromCode(32629);
        const auto way = Transformation::between(wgs84, utm);
        Box box;
        for (const Point corner : {Point{-11, 61}, Point{-10, 62}}) box.add(way->forward(corner));
        const double tolerance = 5;
        const auto lines = gridLines(wgs84, utm, box, 0.25, tolerance);
        int meridians = 0, parallels = 0;
        for (const auto& line : lines) {
            (line.isConstantX ? meridians : parallels)++;
            QVERIFY(std::abs(std::remainder(line.value, 0.25)) < 1e-9);
            for (const auto& piece : line.pieces)
                for (std::size_t i = 1; i < piece.size(); ++i) {
                    // The middle of every stretch lies on the line itself.
                    const Point middle = way->inverse((piece[i - 1] + piece[i]) * 0.5);
                    const double off =
                        line.isConstantX ? middle.x - line.value : middle.y - line.value;
                    QVERIFY2(std::abs(off) * 111320 < 2.5 * tolerance,
                             qPrintable(QString::number(off)));
                }
        }
        QVERIFY(meridians >= 5 && parallels >= 5);
    }

    void goesRoundThePole() {
        const CrsPtr wgs84 = *crsFromCode(4326), polar = *crsFromCode(3413);
        const auto way = Transformation::between(wgs84, polar);
        const auto lines = gridLines(wgs84, polar, {-2e6, -2e6, 2e6, 2e6}, 10, 1000);
        int meridians = 0;
        for (const auto& line : lines) meridians += line.isConstantX;
        QCOMPARE(meridians, 36);
        for (const auto& line : lines)
            if (!line.isConstantX && line.value == 80.0) {
                double length = 0;
                for (const auto& piece : line.pieces)
                    for (std::size_t i = 1; i < piece.size(); ++i)
                        length += distance(piece[i - 1], piece[i]);
                const double radius = std::abs(way->forward(Point{0, 80}).y * std::sqrt(2.0));
                QVERIFY(std::abs(length / (2 * kPi * radius) - 1) < 1e-3);
            }
    }

    void breaksAtTheEdgesOfInterruptedMaps() {
        Crs map = **crsFromCode(4326);
        map.code = 0;
        map.method = Method::InterruptedHomolosine;
        const auto to = std::make_shared<Crs>(map);
        const auto way = Transformation::between(*crsFromCode(4326), to);
        const auto lines = gridLines(*crsFromCode(4326), to, {-2.1e7, -1e7, 2.1e7, 1e7}, 30, 2e4);
        QVERIFY(!lines.empty());
        for (const auto& line : lines)
            for (const auto& piece : line.pieces)
                for (std::size_t i = 1; i < piece.size(); ++i)
                    QVERIFY(way->inverse((piece[i - 1] + piece[i]) * 0.5).isFinite());
    }

    void keepsTheirNumberBounded() {
        const CrsPtr utm = *crsFromCode(32629);
        const auto lines = gridLines(utm, utm, {0, 0, 1e6, 1e6}, 0.5, 1);
        QVERIFY(lines.size() <= 802 && lines.size() > 200);
        QVERIFY(gridLines(utm, utm, {}, 100, 1).empty());
        QVERIFY(gridLines(utm, utm, {0, 0, 1, 1}, 0, 1).empty());
        QVERIFY(gridLines(utm, utm, {0, 0, 1, 1}, kNaN, 1).empty());
    }

    void roundsIntervals_data() {
        QTest::addColumn<double>("wanted");
        QTest::addColumn<double>("round");
        QTest::newRow("seconds") << 3.0 / 3600 << 5.0 / 3600;
        QTest::newRow("exact") << 0.25 << 0.25;
        QTest::newRow("minutes") << 0.09 << 0.1666666666666667;
        QTest::newRow("degrees") << 3.0 << 5.0;
        QTest::newRow("the earth") << 100.0 << 45.0;
    }
    void roundsIntervals() {
        QFETCH(double, wanted);
        QFETCH(double, round);
        QVERIFY(std::abs(roundGraticuleInterval(wanted) - round) < 1e-12);
    }

    void namesLinesWithoutNeedlessParts_data() {
        QTest::addColumn<double>("degrees");
        QTest::addColumn<bool>("isLatitude");
        QTest::addColumn<QString>("label");
        QTest::newRow("degree") << 61.0 << true << "61° N";
        QTest::newRow("minutes") << -10.5 << false << "10° 30′ W";
        QTest::newRow("seconds") << 61.0 + 5.0 / 60 + 15.0 / 3600 << true << "61° 05′ 15″ N";
        QTest::newRow("zero") << 0.0 << true << "0°";
        QTest::newRow("date line") << 180.0 << false << "180°";
        QTest::newRow("beyond it") << 190.0 << false << "170° W";
    }
    void namesLinesWithoutNeedlessParts() {
        QFETCH(double, degrees);
        QFETCH(bool, isLatitude);
        QFETCH(QString, label);
        QCOMPARE(QString::fromStdString(graticuleLabel(degrees, isLatitude)), label);
    }
};

QTEST_APPLESS_MAIN(GridLinesTest)
#include "grid_lines_test.moc"
