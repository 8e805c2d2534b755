#include "core/terrain/slope.h"

#include <QTest>

#include "core/terrain/hillshade.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
constexpr std::size_t kRows = 5, kCols = 7;  // not square, so that swapped axes show
constexpr double kX = 10, kY = 20;

// z = base + east x + north y, with a halo of one cell.
Grid<float> plane(double east, double north, double base = 0) {
    Grid<float> z(kRows + 2, kCols + 2);
    for (std::size_t r = 0; r < z.rows(); ++r)
        for (std::size_t c = 0; c < z.cols(); ++c)
            z(r, c) = static_cast<float>(base + east * kX * double(c) - north * kY * double(r));
    return z;
}
std::vector<CellSize> sizes() { return std::vector<CellSize>(kRows, {kX, kY}); }

Grid<float> slopeOf(const Grid<float>& z, GradientMethod method = GradientMethod::Horn,
                    SlopeUnit unit = SlopeUnit::Degrees) {
    Grid<float> out(kRows, kCols);
    const auto cells = sizes();
    if (!slope(z.view(), cells, 1, method, unit, out.view())) return {};
    return out;
}
Grid<float> shadeOf(const Grid<float>& z, const std::vector<Light>& lights, double scale = 1) {
    Grid<float> out(kRows, kCols);
    const auto cells = sizes();
    if (!hillshade(z.view(), cells, scale, GradientMethod::Horn, lights, out.view())) return {};
    return out;
}
// Cosine of the angle between light and the plane's normal, by vectors.
double expected(double east, double north, Light light) {
    const double az = light.azimuth * M_PI / 180, alt = light.altitude * M_PI / 180;
    const double length = std::sqrt(east * east + north * north + 1);
    return std::max(0.0, (-east * std::sin(az) * std::cos(alt) -
                          north * std::cos(az) * std::cos(alt) + std::sin(alt)) /
                             length);
}
}  // namespace

class SlopeTest : public QObject {
    Q_OBJECT

private slots:
    void matchesClosedFormOnPlanes_data() {
        QTest::addColumn<double>("east");
        QTest::addColumn<double>("north");
        QTest::newRow("flat") << 0.0 << 0.0;
        QTest::newRow("rises east") << 1.0 << 0.0;
        QTest::newRow("falls north") << 0.0 << -1.0;
        QTest::newRow("both") << 3.0 << 4.0;
        QTest::newRow("gentle") << 0.01 << -0.02;
    }
    void matchesClosedFormOnPlanes() {
        QFETCH(double, east);
        QFETCH(double, north);
        const double rise = std::hypot(east, north);
        for (const auto method : {GradientMethod::Horn, GradientMethod::ZevenbergenThorne}) {
            const auto degrees = slopeOf(plane(east, north), method);
            for (const float v : degrees.cells())
                QVERIFY(std::abs(double(v) - std::atan(rise) * 180 / M_PI) < 1e-3);
            const auto percent = slopeOf(plane(east, north), method, SlopeUnit::Percent);
            for (const float v : percent.cells())
                QVERIFY(std::abs(double(v) - 100 * rise) < 1e-3 * (1 + 100 * rise));
        }
        for (const Light light :
             {Light{315, 45}, Light{0, 30}, Light{90, 60}, Light{200, 10}, Light{10, 90}}) {
            const auto shade = shadeOf(plane(east, north), {light});
            for (const float v : shade.cells())
                QVERIFY(std::abs(double(v) - expected(east, north, light)) < 1e-5);
        }
    }

    void matchesTheDifferencesOfSineHills_data() {
        QTest::addColumn<GradientMethod>("method");
        QTest::newRow("horn") << GradientMethod::Horn;
        QTest::newRow("zevenbergen-thorne") << GradientMethod::ZevenbergenThorne;
    }
    void matchesTheDifferencesOfSineHills() {
        // For z = a sin(kx) sin(ky) the central difference is the derivative times sin(kh)/(kh);
        // the 1-2-1 weights across it give another (1 + cos(kh))/2.
        QFETCH(GradientMethod, method);
        constexpr double kHigh = 50, kStep = 0.4, kCell = 10;  // k h = 0.4
        constexpr std::size_t kSide = 24;
        Grid<float> z(kSide + 2, kSide + 2), slopes(kSide, kSide), shades(kSide, kSide);
        for (std::size_t r = 0; r < z.rows(); ++r)
            for (std::size_t c = 0; c < z.cols(); ++c)
                z(r, c) = static_cast<float>(kHigh * std::sin(kStep * double(c)) *
                                             std::sin(-kStep * double(r)));
        const std::vector<CellSize> cells(kSide, {kCell, kCell});
        const Light light{250, 35};
        QVERIFY(slope(z.view(), cells, 1, method, SlopeUnit::Percent, slopes.view()).has_value());
        QVERIFY(hillshade(z.view(), cells, 1, method, {light}, shades.view()).has_value());
        const double weights = method == GradientMethod::Horn ? (1 + std::cos(kStep)) / 2 : 1;
        for (std::size_t r = 0; r < kSide; ++r)
            for (std::size_t c = 0; c < kSide; ++c) {
                const double x = kStep * double(c + 1), y = -kStep * double(r + 1);
                const double factor = kHigh * std::sin(kStep) / kCell * weights;
                const double east = factor * std::cos(x) * std::sin(y);
                const double north = factor * std::sin(x) * std::cos(y);
                QVERIFY(std::abs(double(slopes(r, c)) - 100 * std::hypot(east, north)) < 1e-3);
                QVERIFY(std::abs(double(shades(r, c)) - expected(east, north, light)) < 1e-5);
            }
    }

    void namesItsGradients() {
        for (const auto method : {GradientMethod::Horn, GradientMethod::ZevenbergenThorne})
            QVERIFY(gradientMethodOf(nameOf(method)) == method);
        QVERIFY(!gradientMethodOf("steepest"));
    }

    void keepsDetailOnHighPlateaus() {
        const auto low = slopeOf(plane(0.5, 0.25)), high = slopeOf(plane(0.5, 0.25, 4096));
        for (std::size_t i = 0; i < low.cells().size(); ++i)
            QVERIFY(std::abs(low.cells()[i] - high.cells()[i]) < 2e-3F);
    }

    void spreadsNodataToTheCellsThatReadIt() {
        for (const auto method : {GradientMethod::Horn, GradientMethod::ZevenbergenThorne}) {
            auto z = plane(1, 0);
            z(3, 3) = std::numeric_limits<float>::quiet_NaN();
            const auto out = slopeOf(z, method);
            for (std::size_t r = 0; r < kRows; ++r)
                for (std::size_t c = 0; c < kCols; ++c) {
                    const bool reads = r >= 1 && r <= 3 && c >= 1 && c <= 3;
                    QCOMPARE(bool(std::isnan(out(r, c))), reads);
                }
        }
        auto z = plane(1, 0);
        z(1, 1) = std::numeric_limits<float>::quiet_NaN();
        QVERIFY(std::isnan(shadeOf(z, {{315, 45}})(0, 0)));
        QVERIFY(std::isnan(shadeOf(z, {{315, 45}, {270, 45}})(0, 0)));
    }

    void turnsWithTheTerrain() {
        // The same hill turned by a quarter under a light turned with it looks the same.
        Grid<float> z(9, 9), turned(9, 9);
        for (std::size_t r = 0; r < 9; ++r)
            for (std::size_t c = 0; c < 9; ++c) {
                z(r, c) = static_cast<float>(std::sin(double(r) * 0.7) * 20 + double(c * c));
                turned(c, 8 - r) = z(r, c);
            }
        const std::vector<CellSize> cells(7, {10, 10});
        Grid<float> a(7, 7), b(7, 7);
        QVERIFY(
            hillshade(z.view(), cells, 1, GradientMethod::Horn, {{315, 45}}, a.view()).has_value());
        QVERIFY(hillshade(turned.view(), cells, 1, GradientMethod::Horn, {{45, 45}}, b.view())
                    .has_value());
        for (std::size_t r = 0; r < 7; ++r)
            for (std::size_t c = 0; c < 7; ++c) QVERIFY(std::abs(a(r, c) - b(c, 6 - r)) < 1e-5F);
    }

    void continuesLinearlyBeyondTheEdge() {
        Grid<float> z(4, 3);
        for (std::size_t r = 0; r < 4; ++r)
            for (std::size_t c = 0; c < 3; ++c)
                z(r, c) = static_cast<float>(2 * c) - static_cast<float>(3 * r);
        const Grid<float> wide = withHalo(z.view());
        for (std::size_t r = 0; r < 6; ++r)
            for (std::size_t c = 0; c < 5; ++c)
                QCOMPARE(wide(r, c),
                         2 * (static_cast<float>(c) - 1) - 3 * (static_cast<float>(r) - 1));
        QCOMPARE(withHalo(Grid<float>(1, 1, 7).view())(0, 0), 7.0F);
    }

    void refusesWrongInput() {
        Grid<float> out(kRows, kCols);
        const auto z = plane(1, 1);
        const auto cells = sizes();
        QVERIFY(!slope(out.view(), cells, 1, GradientMethod::Horn, SlopeUnit::Degrees, out.view()));
        QVERIFY(!hillshade(z.view(), cells, 1, GradientMethod::Horn, {}, out.view()));
        QVERIFY(!hillshade(z.view(), cells, 1, GradientMethod::Horn, {{0, 120}}, out.view()));
        const std::vector<CellSize> bad(kRows, {0, 10});
        QVERIFY(!slope(z.view(), bad, 1, GradientMethod::Horn, SlopeUnit::Degrees, out.view()));
        std::stop_source stop;
        stop.request_stop();
        QCOMPARE(hillshade(z.view(), cells, 1, GradientMethod::Horn, {{0, 45}}, out.view(),
                           stop.get_token())
                     .error()
                     .code,
                 ErrorCode::Cancelled);
    }
};

QTEST_APPLESS_MAIN(SlopeTest)
#include "slope_test.moc"
