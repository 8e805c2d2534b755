#include "core/terrain/aspect.h"

#include <QTest>
#include <cmath>

#include "core/base/random.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
// A plane that falls towards a bearing, rows going south.
Grid<float> plane(double bearingDegrees, double steepness, std::size_t side = 9) {
    Grid<float> z(side, side);
    const double b = bearingDegrees * 3.14159265358979 / 180;
    for (std::size_t r = 0; r < side; ++r)
        for (std::size_t c = 0; c < side; ++c)
            z(r, c) = static_cast<float>(
                1000 - steepness * 10 * (std::sin(b) * double(c) - std::cos(b) * double(r)));
    return z;
}

Grid<float> aspectOf(const Grid<float>& z, GradientMethod method = GradientMethod::Horn) {
    Grid<float> out(z.rows() - 2, z.cols() - 2);
    const std::vector<CellSize> cells(out.rows(), {10, 10});
    const auto done = aspect(z.view(), cells, 1, method, out.view());
    if (!done) qFatal("%s", done.error().text().c_str());
    return out;
}
double between(double a, double b) { return std::abs(std::remainder(a - b, 360.0)); }
}  // namespace

class AspectTest : public QObject {
    Q_OBJECT

private slots:
    void tellsWhereAPlaneFalls_data() {
        QTest::addColumn<double>("bearing");
        for (const double b :
             {0.0, 17.0, 45.0, 89.0, 90.0, 135.0, 180.0, 200.0, 270.0, 315.0, 359.0})
            QTest::newRow(qPrintable(QString::number(b))) << b;
    }
    void tellsWhereAPlaneFalls() {
        QFETCH(double, bearing);
        for (const double steepness : {0.02, 0.5, 4.0})
            for (const auto method : {GradientMethod::Horn, GradientMethod::ZevenbergenThorne}) {
                const Grid<float> out = aspectOf(plane(bearing, steepness), method);
                for (const float a : out.cells()) {
                    QVERIFY2(between(double(a), bearing) < 0.02,
                             qPrintable(QString::number(double(a))));
                    QVERIFY(a >= 0 && a < 360);
                }
            }
    }

    void agreesWithTheArcTangent() {
        Random random(4);
        Grid<float> z(60, 60);
        for (float& h : z.cells()) h = static_cast<float>(random.between(0, 200));
        const Grid<float> out = aspectOf(z);
        for (std::size_t r = 0; r < out.rows(); ++r)
            for (std::size_t c = 0; c < out.cols(); ++c) {
                const auto at = [&](std::size_t i, std::size_t j) {
                    return double(z(r + i, c + j));
                };
                const double east =
                    at(0, 2) + 2 * at(1, 2) + at(2, 2) - at(0, 0) - 2 * at(1, 0) - at(2, 0);
                const double north =
                    at(0, 0) + 2 * at(0, 1) + at(0, 2) - at(2, 0) - 2 * at(2, 1) - at(2, 2);
                const double expected = std::atan2(-east, -north) * 57.29577951308232;
                QVERIFY2(between(double(out(r, c)), expected) < 1e-3,
                         qPrintable(QString::number(double(out(r, c)) - expected)));
            }
    }

    void hasNoneOnFlatGroundAndBesideMissingData() {
        Grid<float> z = plane(90, 0);
        const Grid<float> level = aspectOf(z);
        for (const float a : level.cells()) QVERIFY(std::isnan(a));
        z = plane(90, 1);
        z(4, 4) = std::numeric_limits<float>::quiet_NaN();
        const Grid<float> out = aspectOf(z);
        int missing = 0;
        for (const float a : out.cells()) missing += std::isnan(a);
        QCOMPARE(missing, 9);
    }

    void turnsWithTheGround() {
        // The same hill turned by a quarter: aspects turn by 90 degrees.
        Random random(6);
        Grid<float> z(20, 20), turned(20, 20);
        for (float& h : z.cells()) h = static_cast<float>(random.between(0, 50));
        for (std::size_t r = 0; r < 20; ++r)
            for (std::size_t c = 0; c < 20; ++c) turned(c, 19 - r) = z(r, c);  // clockwise
        const Grid<float> a = aspectOf(z), b = aspectOf(turned);
        for (std::size_t r = 0; r < 18; ++r)
            for (std::size_t c = 0; c < 18; ++c)
                QVERIFY(between(double(b(c, 17 - r)), double(a(r, c)) + 90) < 1e-2);
    }

    void refusesWrongShapes() {
        Grid<float> z(5, 5), out(4, 4);
        const std::vector<CellSize> cells(4, {1, 1});
        QVERIFY(!aspect(std::as_const(z).view(), cells, 1, GradientMethod::Horn, out.view()));
        Grid<float> right(3, 3);
        const std::vector<CellSize> none(3, {0, 1});
        QVERIFY(!aspect(std::as_const(z).view(), none, 1, GradientMethod::Horn, right.view()));
    }
};

QTEST_APPLESS_MAIN(AspectTest)
#include "aspect_test.moc"
