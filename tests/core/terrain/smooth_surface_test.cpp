#include "core/terrain/smooth_surface.h"

#include <QTest>

#include "core/base/random.h"

using namespace ledge;
using namespace ledge::terrain;

class SmoothSurfaceTest : public QObject {
    Q_OBJECT

private slots:
    void keepsPlanes() {
        Grid<float> z(20, 30);
        const Affine toWorld{10, 0, 1000, 0, -10, 5000};
        for (std::size_t r = 0; r < 20; ++r)
            for (std::size_t c = 0; c < 30; ++c) z(r, c) = float(3 * double(c) - 2 * double(r));
        for (const std::size_t steps : {1u, 2u, 5u}) {
            const auto fine = smoothSurface(z.view(), toWorld, steps);
            QCOMPARE(fine.heights.rows(), 19 * steps + 1);
            QCOMPARE(fine.heights.cols(), 29 * steps + 1);
            // The first fine centre is the first centre.
            const Point first = fine.toWorld({0.5, 0.5});
            QVERIFY(distance(first, toWorld({0.5, 0.5})) < 1e-9);
            for (std::size_t r = 2 * steps; r < fine.heights.rows() - 2 * steps; ++r)
                for (std::size_t c = 2 * steps; c < fine.heights.cols() - 2 * steps; ++c) {
                    const Point p = fine.toWorld({double(c) + 0.5, double(r) + 0.5});
                    const double expected = 3 * ((p.x - 1005) / 10) - 2 * ((4995 - p.y) / 10);
                    QVERIFY(std::abs(double(fine.heights(r, c)) - expected) < 1e-3);
                }
        }
    }

    void staysWithinItsSurroundings() {
        Random random(5);
        Grid<float> z(25, 25);
        for (float& v : z.cells())
            v = random.below(20) == 0 ? std::numeric_limits<float>::quiet_NaN()
                                      : float(random.between(-50, 50));
        const auto fine = smoothSurface(z.view(), {}, 4);
        int data = 0;
        for (std::size_t r = 0; r < fine.heights.rows(); ++r)
            for (std::size_t c = 0; c < fine.heights.cols(); ++c) {
                const float v = fine.heights(r, c);
                const std::size_t r0 = std::min<std::size_t>(r / 4, 23),
                                  c0 = std::min<std::size_t>(c / 4, 23);
                const float corners = z(r0, c0) + z(r0 + 1, c0) + z(r0, c0 + 1) + z(r0 + 1, c0 + 1);
                QCOMPARE(std::isnan(v), std::isnan(corners));
                if (std::isnan(v)) continue;
                ++data;
                QVERIFY(v > -50 && v < 50);
            }
        QVERIFY(data > 1000);
    }

    void smoothsNoise() {
        Random random(8);
        Grid<float> z(60, 60);
        for (float& v : z.cells()) v = float(random.between(-1, 1));
        const auto roughness = [](const Grid<float>& g, std::size_t step) {
            double sum = 0;
            for (std::size_t r = step; r + step < g.rows(); r += step)
                for (std::size_t c = step; c + step < g.cols(); c += step)
                    sum += std::pow(double(g(r, c + step) - 2 * g(r, c) + g(r, c - step)), 2);
            return sum;
        };
        QVERIFY(roughness(smoothSurface(z.view(), {}, 3).heights, 3) < 0.3 * roughness(z, 1));
    }
};

QTEST_APPLESS_MAIN(SmoothSurfaceTest)
#include "smooth_surface_test.moc"
