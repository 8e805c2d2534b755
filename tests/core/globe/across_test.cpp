#include "core/globe/across.h"

#include <QTest>

#include "core/crs/world_crs.h"
#include "core/globe/around.h"
#include "core/globe/mapping.h"
#include "support/continents.h"

using namespace ledge;
using namespace ledge::globe;

namespace {
FeatureTable islands(const std::vector<std::pair<double, double>>& spans) {
    FeatureList list;
    list.info.crs = *crs::crsFromCode(4326);
    for (const auto& [west, east] : spans)
        list.features.push_back({static_cast<FeatureKey>(list.features.size()) + 1,
                                 Geometry::polygon({{{west, -18}, {east, -18}, {east, -16}}}),
                                 {}});
    return FeatureTable(std::move(list));
}
}  // namespace

/// What lies on both sides of 180 degrees, and going around the earth.
class AcrossTest : public QObject {
    Q_OBJECT

private slots:
    void tellsOneExtent_data() {
        QTest::addColumn<std::vector<std::pair<double, double>>>("spans");
        QTest::addColumn<QString>("words");
        using Spans = std::vector<std::pair<double, double>>;
        QTest::newRow("both sides") << Spans{{177, 179}, {-180, -178}} << "177° E to 178° W";
        QTest::newRow("one that jumps") << Spans{{178, -179}} << "178° E to 179° W";
        QTest::newRow("far apart") << Spans{{170, 175}, {-165, -160}} << "170° E to 160° W";
        QTest::newRow("one side") << Spans{{170, 179}, {10, 20}} << "";
        QTest::newRow("all around")
            << Spans{{-180, -100}, {-110, -20}, {-30, 60}, {50, 130}, {120, 180}} << "";
        QTest::newRow("as wide as half the earth")
            << Spans{{100, 140}, {150, 179}, {-180, -120}} << "100° E to 120° W";
        QTest::newRow("places all over")
            << Spans{{57, 58}, {110, 111}, {-150, -149}, {-36, -35}} << "";
    }
    void tellsOneExtent() {
        using Spans = std::vector<std::pair<double, double>>;
        QFETCH(Spans, spans);
        QFETCH(QString, words);
        const auto across = acrossAntimeridian(islands(spans));
        QCOMPARE(across ? QString::fromStdString(longitudeWords(*across)) : QString(), words);
        // The same when the data are told from 0 to 360, or cut at 180 degrees.
        const auto cut = mapped(islands(spans), *crs::crsFromCode(4326), 1e-3, true);
        const auto after = acrossAntimeridian(cut->table);
        QCOMPARE(after ? QString::fromStdString(longitudeWords(*after)) : QString(), words);
    }

    void goesAroundCylinders_data() {
        QTest::addColumn<QString>("crs");
        QTest::addColumn<bool>("around");
        for (const char* crs :
             {"EPSG:4326", "EPSG:3857", "EPSG:3395", "world:miller", "world:mercator",
              "world:plate-carree", "world:cylindrical-equal-area"})
            QTest::newRow(crs) << crs << true;
        for (const char* crs : {"world:robinson", "EPSG:32629", "EPSG:3035", "world:hammer"})
            QTest::newRow(crs) << crs << false;
    }
    void goesAroundCylinders() {
        QFETCH(QString, crs);
        QFETCH(bool, around);
        const auto map = *crs::parseCrs(crs.toStdString());
        const double turn = turnWidth(map);
        QCOMPARE(turn > 0, around);
        const auto way = crs::Transformation::between(*crs::crsFromCode(4326), map);
        const Point at = way->forward(Point{20, 30});
        for (const double n : {-2.0, -1.0, 0.0, 1.0, 3.0}) {
            const Point there = intoTurn(map, {at.x + n * turn, at.y});
            QVERIFY(std::abs(there.x - at.x) < 1e-6 && there.y == at.y);
        }
        if (around) {
            const Box box = turnBox(map);
            QVERIFY(std::abs(box.width() - turn) < 1e-6);
            QVERIFY(std::abs(way->forward(Point{179.999, 0}).x - box.xMax) < 200);
        }
    }

    void centresElsewhere_data() {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("there");
        QTest::newRow("a meridian") << "world:robinson"
                                    << "world:robinson@-163.2";
        QTest::newRow("again") << "world:mollweide@40"
                               << "world:mollweide@-163.2";
        QTest::newRow("a point") << "world:azimuthal-equal-area@10,20"
                                 << "world:azimuthal-equal-area@-163.2,41.5";
        QTest::newRow("a code") << "EPSG:3857"
                                << "";
    }
    void centresElsewhere() {
        QFETCH(QString, text);
        QFETCH(QString, there);
        const auto made = crs::recentred(text.toStdString(), {196.84, 41.53});
        QCOMPARE(made ? QString::fromStdString(*made) : QString(), there);
        if (made) QVERIFY(crs::parseCrs(*made).has_value());
    }
};

QTEST_APPLESS_MAIN(AcrossTest)
#include "across_test.moc"
