#include "core/raster/gaussian.h"

#include <QTest>
#include <cmath>
#include <limits>
#include <random>

using namespace ledge;

/// A Gaussian laid over a grid.
class GaussianTest : public QObject {
    Q_OBJECT

private slots:
    // The answer to one cell is the bell curve itself.
    void spreadsOneCellAsTheCurveSays_data() {
        QTest::addColumn<double>("sigma");
        for (const double sigma : {0.6, 1.0, 2.3})
            QTest::newRow(qPrintable(QString::number(sigma))) << sigma;
    }
    void spreadsOneCellAsTheCurveSays() {
        QFETCH(double, sigma);
        constexpr std::size_t kSide = 41, kMiddle = 20;
        Grid<float> one(kSide, kSide, 0.0F);
        one(kMiddle, kMiddle) = 1;
        const auto out = gaussian(one, sigma);
        double sum = 0, variance = 0;
        for (std::size_t r = 0; r < kSide; ++r)
            for (std::size_t c = 0; c < kSide; ++c) {
                const double away = double(c) - double(kMiddle);
                sum += double(out(r, c));
                variance += double(out(r, c)) * away * away;
            }
        QVERIFY(std::abs(sum - 1) < 1e-5);
        QVERIFY2(std::abs(std::sqrt(variance) - sigma) < 0.06 * sigma,
                 qPrintable(QString::number(std::sqrt(variance))));
        QCOMPARE(out(kMiddle, kMiddle + 3), out(kMiddle - 3, kMiddle));
    }

    void leavesPlanesAndConstantsAlone() {
        Grid<float> plane(30, 40);
        for (std::size_t r = 0; r < 30; ++r)
            for (std::size_t c = 0; c < 40; ++c) plane(r, c) = 3 * float(c) - 2 * float(r) + 7;
        const auto out = gaussian(plane, 1.5);
        const std::size_t reach = gaussianReach(1.5);
        for (std::size_t r = reach; r + reach < 30; ++r)
            for (std::size_t c = reach; c + reach < 40; ++c)
                QVERIFY(std::abs(out(r, c) - plane(r, c)) < 1e-3F);
        const Grid<float> flat(8, 9, 4.5F);
        const auto spread = gaussian(flat, 3);
        for (const float v : spread.cells()) QVERIFY(std::abs(v - 4.5F) < 1e-5F);
        QVERIFY(gaussian(plane, 0) == plane);
    }

    // Missing cells stay missing and pull nothing towards them; the range is never left.
    void bearsMissingCells() {
        std::mt19937 random(5);
        std::uniform_real_distribution<float> height(100, 900);
        Grid<float> cells(50, 60);
        for (float& v : cells.cells())
            v = random() % 5 == 0 ? std::numeric_limits<float>::quiet_NaN() : height(random);
        const auto out = gaussian(cells, 1.2);
        for (std::size_t i = 0; i < cells.cells().size(); ++i) {
            const float before = std::as_const(cells).cells()[i],
                        after = std::as_const(out).cells()[i];
            QCOMPARE(std::isnan(after), std::isnan(before));
            if (!std::isnan(after)) QVERIFY(after >= 100 && after <= 900);
        }
    }
};

QTEST_APPLESS_MAIN(GaussianTest)
#include "gaussian_test.moc"
