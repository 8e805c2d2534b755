#include "document/contour_scale.h"

#include <QTest>
#include <cmath>

#include "document/edits/light_edits.h"

using namespace ledge::doc;

/// Contours that give way to fewer as the scale becomes smaller.
class ContourScaleTest : public QObject {
    Q_OBJECT

private slots:
    void growsTheInterval_data() {
        QTest::addColumn<double>("interval");
        QTest::addColumn<double>("scale");
        QTest::addColumn<double>("drawn");
        QTest::addColumn<int>("indexEvery");
        const auto row = [](double interval, double scale, double drawn, int index) {
            QTest::newRow(qPrintable(QString("%1 m at 1:%2").arg(interval).arg(scale)))
                << interval << scale << drawn << index;
        };
        row(25, 25000, 25, 4);
        row(25, 62500, 25, 4);
        row(25, 100000, 50, 2);
        row(25, 125000, 50, 2);
        row(25, 230000, 100, 4);
        row(25, 1e6, 500, 4);
        row(10, 20000, 10, 4);
        row(10, 50000, 20, 2);
        row(10, 100000, 50, 4);
        row(20, 100000, 100, 4);
        row(5, 30000, 20, 4);
        row(25, 0, 25, 4);
    }
    void growsTheInterval() {
        QFETCH(double, interval);
        QFETCH(double, scale);
        QFETCH(double, drawn);
        QFETCH(int, indexEvery);
        ContourStyle style;
        style.levels.interval = interval;
        style.indexEvery = 4;
        QVERIFY(contoursAt(style, scale) == style);  // only where it is asked for
        style.thins = true;
        const auto shown = contoursAt(style, scale);
        QCOMPARE(shown.levels.interval, drawn);
        QCOMPARE(shown.indexEvery, indexEvery);
        // What is drawn is part of the full set.
        const double times = drawn / interval;
        QCOMPARE(times, std::round(times));
        style.levels.listed = {12, 40};
        QVERIFY(contoursAt(style, scale) == style);
    }

    void namesThemInALegend() {
        Document d;
        const auto put = [](const char* name) {
            auto layer = std::make_shared<Layer>();
            Contours contours;
            contours.style.levels.interval = 25;
            contours.style.thins = true;
            layer->name = name;
            layer->content = contours;
            return layer;
        };
        auto group = std::make_shared<Layer>();
        group->name = "Relief";
        Group inner;
        inner.children = {put("Contours 25 m"), put("Lines of my own")};
        group->content = inner;
        const auto shown = layersAt({group}, 100000);
        const auto& children = shown[0]->as<Group>()->children;
        QCOMPARE(children[0]->name, contourName(50));
        QCOMPARE(children[1]->name, std::string("Lines of my own"));
        QCOMPARE(children[1]->as<Contours>()->style.levels.interval, 50.0);
        QCOMPARE(layersAt({group}, 25000)[0]->as<Group>()->children[0]->name,
                 std::string("Contours 25 m"));
    }
};

QTEST_APPLESS_MAIN(ContourScaleTest)
#include "contour_scale_test.moc"
