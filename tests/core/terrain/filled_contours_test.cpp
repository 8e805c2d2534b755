#include "core/terrain/filled_contours.h"

#include <QTest>
#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/random.h"
#include "core/geometry/measure.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
const Affine kNorthUp{10, 0, 0, 0, -10, 1000};

Grid<float> bumps(std::size_t side, std::uint64_t seed, double missing = 0) {
    Random random(seed);
    Grid<float> z(side, side);
    for (std::size_t r = 0; r < side; ++r)
        for (std::size_t c = 0; c < side; ++c)
            z(r, c) =
                random.unit() < missing
                    ? std::numeric_limits<float>::quiet_NaN()
                    : static_cast<float>(50 * std::sin(double(r) / 3) * std::cos(double(c) / 4) +
                                         random.between(0, 6));
    return z;
}
}  // namespace

class FilledContoursTest : public QObject {
    Q_OBJECT

private slots:
    void coversTheDataExactly_data() {
        QTest::addColumn<double>("missing");
        QTest::newRow("whole") << 0.0;
        QTest::newRow("with gaps") << 0.04;
    }
    void coversTheDataExactly() {
        QFETCH(double, missing);
        for (std::uint64_t seed = 1; seed < 6; ++seed) {
            const Grid<float> z = bumps(40, seed, missing);
            const auto bands = filledContours(z.view(), kNorthUp, {10, 0, {}});
            QVERIFY(bands.has_value());
            double sum = 0;
            for (const auto& band : *bands) {
                QVERIFY(band.low < band.high);
                const double area = planarArea(band.area);
                QVERIFY(area > 0);
                sum += area;
            }
            if (missing == 0)
                QVERIFY2(std::abs(sum - 39 * 39 * 100.0) < 1e-6, qPrintable(QString::number(sum)));
            // Every centre that is not on a boundary lies in the band of its height and in no
            // other.
            for (std::size_t r = 1; r < 39; ++r)
                for (std::size_t c = 1; c < 39; ++c) {
                    if (std::isnan(z(r, c))) continue;
                    bool touchesGap = false;
                    for (int i = -1; i <= 1; ++i)
                        for (int j = -1; j <= 1; ++j)
                            touchesGap |=
                                std::isnan(z(std::size_t(int(r) + i), std::size_t(int(c) + j)));
                    if (touchesGap) continue;
                    const Point at = kNorthUp({double(c) + 0.5, double(r) + 0.5});
                    for (const auto& band : *bands) {
                        const bool belongs =
                            double(z(r, c)) >= band.low && double(z(r, c)) < band.high;
                        QVERIFY2(
                            isInside(band.area, at) == belongs,
                            qPrintable(QString("%1 in %2").arg(double(z(r, c))).arg(band.low)));
                    }
                }
        }
    }

    void reachesNoFurtherThanItsHeights() {
        // Corners of an area lie on the lattice, where heights are known along every edge.
        for (std::uint64_t seed = 1; seed < 6; ++seed) {
            const Grid<float> z = bumps(30, seed);
            const auto height = [&](Point p) {
                const Point at{p.x / 10 - 0.5, (1000 - p.y) / 10 - 0.5};
                const auto c = static_cast<std::size_t>(std::clamp(std::floor(at.x), 0.0, 28.0));
                const auto r = static_cast<std::size_t>(std::clamp(std::floor(at.y), 0.0, 28.0));
                const double u = at.x - double(c), v = at.y - double(r);
                return (1 - v) * ((1 - u) * double(z(r, c)) + u * double(z(r, c + 1))) +
                       v * ((1 - u) * double(z(r + 1, c)) + u * double(z(r + 1, c + 1)));
            };
            const auto bands = filledContours(z.view(), kNorthUp, {10, 0, {}});
            for (const auto& band : *bands)
                for (const Point p : band.area.points) {
                    QVERIFY(height(p) > band.low - 1e-4);
                    QVERIFY(height(p) < band.high + 1e-4);
                }
        }
    }

    void makesSimpleRings() {
        for (const double missing : {0.0, 0.2, 0.5})
            for (std::uint64_t seed = 1; seed < 4; ++seed) {
                const Grid<float> z = bumps(25, seed, missing);
                const auto bands = filledContours(z.view(), kNorthUp, {10, 0, {}});
                for (const auto& band : *bands)
                    for (std::size_t i = 0; i < band.area.partCount(); ++i) {
                        const auto part = band.area.part(i);
                        QVERIFY(part.front() == part.back());
                        std::set<std::pair<double, double>> met;
                        for (const Point p : part.subspan(1)) QVERIFY(met.emplace(p.x, p.y).second);
                    }
            }
    }

    void putsHolesIntoTheRightPolygon() {
        // A crater: a ring of high ground with low ground inside and outside.
        Grid<float> z(41, 41);
        for (std::size_t r = 0; r < 41; ++r)
            for (std::size_t c = 0; c < 41; ++c) {
                const double d = std::hypot(double(r) - 20, double(c) - 20);
                z(r, c) = static_cast<float>(100 - std::abs(d - 10) * 10);
            }
        const auto bands = filledContours(std::as_const(z).view(), kNorthUp, {0, 0, {50}});
        QCOMPARE(bands->size(), std::size_t{2});
        const ContourBand& high = bands->back();
        QCOMPARE(high.area.polygons.size(), std::size_t{1});
        QCOMPARE(high.area.partCount(), std::size_t{2});  // outline and crater
        QVERIFY(std::isinf(high.high) && high.low == 50);
        const double expected = 3.14159265 * (150 * 150 - 50 * 50);
        QVERIFY(std::abs(planarArea(high.area) / expected - 1) < 0.01);
        const ContourBand& low = bands->front();
        QCOMPARE(low.area.polygons.size(), std::size_t{2});  // the plain and the crater's floor
    }

    void turnsOutlinesCounterClockwiseInAnyGrid() {
        for (const Affine& to : {kNorthUp, Affine{10, 0, 0, 0, 10, 0}}) {
            const Grid<float> z = bumps(20, 3);
            const auto bands = filledContours(z.view(), to, {20, 0, {}});
            for (const auto& band : *bands)
                for (const std::uint32_t outer : band.area.polygons)
                    QVERIFY(signedArea(band.area.part(outer)) > 0);
        }
    }

    void handlesFlatAndEmptyGround() {
        const Grid<float> flat(5, 5, 7.0F);
        const auto bands = filledContours(flat.view(), kNorthUp, {10, 0, {}});
        QCOMPARE(bands->size(), std::size_t{1});
        const Grid<float> none(5, 5, std::numeric_limits<float>::quiet_NaN());
        QVERIFY(filledContours(none.view(), kNorthUp, {10, 0, {}})->empty());
        QVERIFY(!filledContours(flat.view(), kNorthUp, {0, 0, {}}));
    }
};

QTEST_APPLESS_MAIN(FilledContoursTest)
#include "filled_contours_test.moc"
