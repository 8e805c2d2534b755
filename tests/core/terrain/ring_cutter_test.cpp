#include "core/terrain/detail/ring_cutter.h"

#include <QTest>

#include "core/base/random.h"
#include "core/geometry/measure.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
Ring square(double x, double y) { return {{x, y}, {x + 1, y}, {x + 1, y + 1}, {x, y + 1}, {x, y}}; }
Ring reversed(const Ring& ring) { return {ring.rbegin(), ring.rend()}; }

double areaOf(const std::vector<Ring>& rings) {
    double sum = 0;
    for (const Ring& ring : rings) sum += signedArea(ring);
    return sum;
}
}  // namespace

class RingCutterTest : public QObject {
    Q_OBJECT

private slots:
    void takesNothingFromNothing() { QVERIFY(RingCutter().rings().empty()); }

    void joinsNeighbours() {
        RingCutter cutter;
        cutter.add(square(0, 0));
        cutter.add(square(1, 0));
        const auto rings = cutter.rings();
        QCOMPARE(rings.size(), std::size_t{1});
        QCOMPARE(areaOf(rings), 2.0);
    }

    void dropsWhatIsTakenAway() {
        RingCutter cutter;
        cutter.add(square(3, 4));
        cutter.add(reversed(square(3, 4)));
        QVERIFY(cutter.rings().empty());
    }

    void cutsAlongPartsOfAnEdge() {
        // A triangle that shares half an edge with the square is taken out of its corner.
        RingCutter cutter;
        cutter.add(square(0, 0));
        cutter.add(reversed({{0, 0}, {0.5, 0}, {0, 0.25}, {0, 0}}));
        const auto rings = cutter.rings();
        QCOMPARE(rings.size(), std::size_t{1});
        QCOMPARE(areaOf(rings), 1 - 0.0625);
        for (const Point p : rings[0]) QVERIFY(p != (Point{0, 0}));
    }

    void keepsRingsThatTouchAtAPointApart() {
        RingCutter cutter;
        cutter.add(square(0, 0));
        cutter.add(square(1, 1));
        const auto rings = cutter.rings();
        QCOMPARE(rings.size(), std::size_t{2});
        for (const Ring& ring : rings) QCOMPARE(signedArea(ring), 1.0);
    }

    void makesAHoleOfWhatTouchesFromWithin() {
        // Eight squares around a gap that reaches the outline at a corner only.
        RingCutter cutter;
        for (int x = 0; x < 3; ++x)
            for (int y = 0; y < 3; ++y)
                if ((x != 1 || y != 1) && (x != 0 || y != 0)) cutter.add(square(x, y));
        const auto rings = cutter.rings();
        QCOMPARE(rings.size(), std::size_t{2});
        QCOMPARE(areaOf(rings), 7.0);
        QCOMPARE(std::min(signedArea(rings[0]), signedArea(rings[1])), -1.0);
    }

    void keepsTheAreaOfAnyCells() {
        Random random(7);
        for (int round = 0; round < 50; ++round) {
            RingCutter cutter;
            double count = 0;
            for (int x = 0; x < 8; ++x)
                for (int y = 0; y < 8; ++y)
                    if (random.unit() < 0.5) cutter.add(square(x, y)), ++count;
            QCOMPARE(areaOf(cutter.rings()), count);
        }
    }
};

QTEST_APPLESS_MAIN(RingCutterTest)
#include "ring_cutter_test.moc"
