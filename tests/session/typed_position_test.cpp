#include "session/typed_position.h"

#include <QTest>

#include "core/crs/catalogue.h"
#include "core/crs/transformation.h"

using namespace ledge;
using namespace ledge::session;

/// Positions as people type them.
class TypedPositionTest : public QObject {
    Q_OBJECT

private slots:
    void readsDegrees_data() {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<double>("lat");
        QTest::addColumn<double>("lon");
        const double lat = 61 + 35 / 60.0, lon = -(10 + 40 / 60.0);
        const double latS = lat + 12.5 / 3600, lonS = lon - 30 / 3600.0;
        const auto row = [](const char* typed, double a, double b) {
            QTest::newRow(typed) << QString::fromUtf8(typed) << a << b;
        };
        row("61.6 -10.7", 61.6, -10.7);
        row("61.6, -10.7", 61.6, -10.7);
        row("61.6N 10.7W", 61.6, -10.7);
        row("61.6 n, 10.7 w", 61.6, -10.7);
        row("N61.6 W10.7", 61.6, -10.7);
        row("W 10.7 N 61.6", 61.6, -10.7);
        row("10.7W 61.6N", 61.6, -10.7);
        row("61.6° −10.7°", 61.6, -10.7);
        row("61°35'N 10°40'W", lat, lon);
        row("61°35′N 10°40′W", lat, lon);
        row("61 35 N 10 40 W", lat, lon);
        row("61 35, -10 40", lat, lon);
        row("61°35' -10°40'", lat, lon);
        row("61d35m N, 10d40m W", lat, lon);
        row("61 deg 35 min N 10 deg 40 min W", lat, lon);
        row("61°35′12.5″N 10°40′30″W", latS, lonS);
        row("61°35'12.5\"N, 10°40'30\"W", latS, lonS);
        row("61°35'12.5''N 10°40'30''W", latS, lonS);
        row("61 35 12.5 N 10 40 30 W", latS, lonS);
        row("61 35 12.5 -10 40 30", latS, lonS);
        row("61:35:12.5 -10:40:30", latS, lonS);
        row("61:35 -10:40", lat, lon);
        row("S 33 51 W 9 12", -33.85, -9.2);
        row("61°35.5'N 10°40.25'W", 61 + 35.5 / 60, -(10 + 40.25 / 60));
        row("-0 30, -0 15", -0.5, -0.25);
    }
    void readsDegrees() {
        QFETCH(QString, typed);
        QFETCH(double, lat);
        QFETCH(double, lon);
        const auto map = *crs::crsFromCode(32629);
        const auto found = typedPosition(typed.toStdString(), map);
        QVERIFY(found);
        const auto back = crs::Transformation::between(map, *crs::crsFromCode(4326));
        const Point at = back->forward(*found);
        QVERIFY2(std::abs(at.y - lat) < 1e-7 && std::abs(at.x - lon) < 1e-7,
                 qPrintable(QString("%1 %2").arg(at.y, 0, 'f', 8).arg(at.x, 0, 'f', 8)));
    }

    void readsMapCoordinates_data() {
        QTest::addColumn<QString>("typed");
        QTest::addColumn<bool>("isLocal");
        QTest::addColumn<double>("x");
        QTest::addColumn<double>("y");
        QTest::newRow("winds") << "E 412360 N 6829114" << false << 412360. << 6829114.;
        QTest::newRow("winds the other way")
            << "N 6829114 E 412360" << false << 412360. << 6829114.;
        QTest::newRow("plain") << "412360 6829114" << false << 412360. << 6829114.;
        QTest::newRow("comma, decimals")
            << "412360.5, 6829114.25" << false << 412360.5 << 6829114.25;
        QTest::newRow("metres") << "412360 m, 6829114 m" << false << 412360. << 6829114.;
        QTest::newRow("local") << "12 -40" << true << 12. << -40.;
    }
    void readsMapCoordinates() {
        QFETCH(QString, typed);
        QFETCH(bool, isLocal);
        QFETCH(double, x);
        QFETCH(double, y);
        const auto found =
            typedPosition(typed.toStdString(), isLocal ? crs::CrsPtr() : *crs::crsFromCode(32629));
        QVERIFY(found);
        QCOMPARE(*found, (Point{x, y}));
    }

    void readsGridReferences() {
        const auto found = typedPosition("29V NJ 40123 34021", *crs::crsFromCode(32629));
        QVERIFY(found);
        // In its own plane: square NJ of zone 29 begins at 500 000 E.
        QVERIFY(std::abs(found->x - 540123.5) < 1e-6);
        QCOMPARE(std::fmod(found->y, 100000), 34021.5);
        QVERIFY(!typedPosition("29VNJ 4 3", crs::CrsPtr()));  // a local map knows no such place
    }

    void refusesWhatIsNone_data() {
        QTest::addColumn<QString>("typed");
        for (const char* typed :
             {"", "12", "Crofts", "61.6N 10.7N", "61 75 N 10 40 W", "61.5 35 N 10 40 W",
              "1 2 3 4 5 6 7 8", "61.6N", "1 2 3", "10 km", "E E 4", "61°35'N, 10°40'x"})
            QTest::newRow(typed) << QString::fromUtf8(typed);
    }
    void refusesWhatIsNone() {
        QFETCH(QString, typed);
        QVERIFY(!typedPosition(typed.toStdString(), *crs::crsFromCode(32629)));
    }
};

QTEST_APPLESS_MAIN(TypedPositionTest)
#include "typed_position_test.moc"
