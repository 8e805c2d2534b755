#include "core/crs/grid_reference.h"

#include <QTest>
#include <cmath>
#include <random>

#include "core/crs/catalogue.h"
#include "core/crs/transformation.h"

using namespace ledge;
using namespace ledge::crs;

namespace {
Point lonLat(const GridReference& square) {
    const auto way = Transformation::between(*crsFromCode(square.code), *crsFromCode(4326));
    return way->forward(square.at);
}

// The reference of a place, written from the standard's tables.
std::string written(double lon, double lat, int digits, Point* plane) {
    const int zone = std::min(60, static_cast<int>((lon + 180) / 6) + 1);
    const bool isNorth = lat >= 0;
    const auto way =
        Transformation::between(*crsFromCode(4326), *crsFromCode((isNorth ? 32600 : 32700) + zone));
    *plane = way->forward(Point{lon, lat});
    const int band = std::min(19, static_cast<int>((lat + 80) / 8));
    const int column = static_cast<int>(plane->x / 100000),
              row = static_cast<int>(plane->y / 100000);
    std::string out = std::to_string(zone) + "CDEFGHJKLMNPQRSTUVWX"[band];
    out += "ABCDEFGHJKLMNPQRSTUVWXYZ"[(zone - 1) % 3 * 8 + column - 1];
    out += "ABCDEFGHJKLMNPQRSTUV"[(row + (zone % 2 == 0 ? 5 : 0)) % 20];
    const auto part = [digits](double v) {
        const double rest = std::fmod(v, 100000) / std::pow(10, 5 - digits);
        return QString::number(static_cast<int>(rest)).rightJustified(digits, '0').toStdString();
    };
    return digits == 0 ? out : out + part(plane->x) + part(plane->y);
}
}  // namespace

/// References of the military grid, as they are typed.
class GridReferenceTest : public QObject {
    Q_OBJECT

private slots:
    void readsKnownOnes_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("lon");
        QTest::addColumn<double>("lat");
        QTest::newRow("a metre") << "18SUJ2348306479" << -77.0352 << 38.8895;
        QTest::newRow("with blanks, small letters") << "18s uj 23483 06479" << -77.0352 << 38.8895;
        QTest::newRow("a one-digit zone") << "4QFJ1234567890" << -157.9161 << 21.4097;
    }
    void readsKnownOnes() {
        QFETCH(QString, text);
        QFETCH(double, lon);
        QFETCH(double, lat);
        const auto square = parseGridReference(text.toStdString());
        QVERIFY(square);
        QCOMPARE(square->side, 1.0);
        const Point at = lonLat(*square);
        QVERIFY2(std::abs(at.x - lon) < 2e-4 && std::abs(at.y - lat) < 2e-4,
                 qPrintable(QString("%1 %2").arg(at.x, 0, 'f', 6).arg(at.y, 0, 'f', 6)));
    }

    // Every zone and band, both ways of the tables.
    void findsItsPlacesAgain() {
        std::mt19937 random(11);
        std::uniform_real_distribution<double> lon(-180, 180), lat(-79.9, 83.9);
        for (int i = 0; i < 4000; ++i) {
            const double x = lon(random), y = lat(random);
            const int digits = i % 6;
            Point plane;
            const std::string text = written(x, y, digits, &plane);
            const auto square = parseGridReference(text);
            QVERIFY2(square, text.c_str());
            const double reach = square->side / 2 + 1e-6;
            QVERIFY2(std::abs(square->at.x - plane.x) <= reach &&
                         std::abs(square->at.y - plane.y) <= reach,
                     qPrintable(QString("%1 at %2 %3: %4 %5, not %6 %7")
                                    .arg(text.c_str())
                                    .arg(x)
                                    .arg(y)
                                    .arg(square->at.x)
                                    .arg(square->at.y)
                                    .arg(plane.x)
                                    .arg(plane.y)));
        }
    }

    // The poles lie on corners where four squares meet.
    void readsThePolarRegions_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<double>("easting");
        QTest::addColumn<double>("northing");
        QTest::addColumn<int>("code");
        QTest::newRow("north, east half") << "ZAH0000000000" << 2000000.5 << 2000000.5 << 32661;
        QTest::newRow("north, west half") << "YZH9999900000" << 1999999.5 << 2000000.5 << 32661;
        QTest::newRow("south, east half") << "BAN0000000000" << 2000000.5 << 2000000.5 << 32761;
        QTest::newRow("south, west half") << "AZM9999999999" << 1999999.5 << 1999999.5 << 32761;
    }
    void readsThePolarRegions() {
        QFETCH(QString, text);
        QFETCH(double, easting);
        QFETCH(double, northing);
        QFETCH(int, code);
        const auto square = parseGridReference(text.toStdString());
        QVERIFY(square);
        QCOMPARE(square->code, code);
        QCOMPARE(square->at.x, easting);
        QCOMPARE(square->at.y, northing);
        QVERIFY(std::abs(std::abs(lonLat(*square).y) - 90) < 1e-4);
    }

    void refusesWhatIsNone_data() {
        QTest::addColumn<QString>("text");
        for (const char* text :
             {"", "29", "29V", "29VN", "61 VNJ 1 1", "29INJ", "29VIJ", "29VNI", "29VNJ 123", "0VNJ",
              "29VNJ 123456 123456", "29VNJ 12x4", "hillshade", "Crofts", "CAA", "ZZZ", "61.5 -10"})
            QTest::newRow(text) << text;
    }
    void refusesWhatIsNone() {
        QFETCH(QString, text);
        QVERIFY(!parseGridReference(text.toStdString()));
    }
};

QTEST_APPLESS_MAIN(GridReferenceTest)
#include "grid_reference_test.moc"
