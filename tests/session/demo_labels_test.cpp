#include <QTest>

#include "support/coarse_demo.h"
#include "support/crowded_demo.h"

using namespace ledge;

/// What improving a placement brings on the demo's own names.
class DemoLabelsTest : public QObject {
    Q_OBJECT

private slots:
    void placesMoreThanInTurn_data() {
        QTest::addColumn<double>("scale");
        QTest::addColumn<double>("gain");
        // Room for one comes from moving others: where all find some, or all that is left is
        // large, there is none to be had.
        for (const auto& [scale, gain] :
             {std::pair(20000.0, 1.1), {60000.0, 1.07}, {450000.0, 1.1}})
            QTest::addRow("crowded, 1 : %g", scale) << scale << gain;
        for (const double scale : {30000.0, 100000.0, 200000.0})
            QTest::addRow("1 : %g", scale) << scale << 1.0;
    }
    void placesMoreThanInTurn() {
        QFETCH(double, scale);
        QFETCH(double, gain);
        const test::CrowdedDemo demo(test::coarseDemo(30));
        const auto inTurn = demo.labels(scale, label::Effort::InTurn);
        const auto improved = demo.labels(scale, label::Effort::Improved);
        const auto before = double(inTurn.labels.size()), after = double(improved.labels.size());
        qInfo("1 : %g: %g of %g placed, %g in turn", scale, after,
              after + double(improved.leftOut.size()), before);
        QVERIFY(before > 0);
        QVERIFY2(after >= gain * before - 1e-9,
                 qPrintable(QString("%1 of %2").arg(after).arg(before)));
        // None lies over another.
        for (std::size_t i = 0; i < improved.labels.size(); ++i)
            for (std::size_t k = 0; k < i; ++k)
                for (const Box& a : improved.labels[i].boxes)
                    for (const Box& b : improved.labels[k].boxes)
                        QVERIFY(!a.grown(-0.01).intersects(b.grown(-0.01)));
    }
};

QTEST_MAIN(DemoLabelsTest)
#include "demo_labels_test.moc"
