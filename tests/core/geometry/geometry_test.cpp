#include <QTest>

#include "core/base/random.h"
#include "core/feature/feature_index.h"
#include "core/geometry/affine.h"
#include "core/geometry/clip.h"
#include "core/geometry/measure.h"

using namespace ledge;

namespace {
const Box kBox{0, 0, 10, 10};
const Geometry kDonut =
    Geometry::polygon({{{0, 0}, {10, 0}, {10, 10}, {0, 10}}, {{3, 3}, {7, 3}, {7, 7}, {3, 7}}});
}  // namespace

class GeometryTest : public QObject {
    Q_OBJECT

private slots:
    void measuresPlainShapes() {
        QCOMPARE(planarArea(kDonut), 84.0);
        QCOMPARE(planarLength(kDonut), 56.0);
        QVERIFY(isInside(kDonut, {1, 1}));
        QVERIFY(!isInside(kDonut, {5, 5}));
        QVERIFY(!isInside(kDonut, {11, 5}));
        QCOMPARE(distanceTo(kDonut, {5, 5}), 2.0);
        QCOMPARE(distanceTo(kDonut, {1, 1}), 0.0);
        QCOMPARE(distanceTo(Geometry::line({{0, 0}, {10, 0}}), {5, 3}), 3.0);
        QVERIFY(isInside(kDonut, anchorOf(kDonut)));
        QCOMPARE(anchorOf(Geometry::line({{0, 0}, {10, 0}})), (Point{5, 0}));
        QVERIFY(!anchorOf(Geometry{}).isFinite());
    }

    void keepsAreasFarFromTheOrigin() {
        std::vector<Point> ring{
            {4e6, 6e6}, {4e6 + 1, 6e6}, {4e6 + 1, 6e6 + 1}, {4e6, 6e6 + 1}, {4e6, 6e6}};
        QVERIFY(std::abs(signedArea(ring) - 1) < 1e-9);
    }

    void clipsLines() {
        const std::vector<Point> line{{-5, 5}, {5, 5}, {5, 15}, {8, 15}, {8, -5}};
        const auto pieces = clipLine(line, kBox);
        QCOMPARE(pieces.size(), std::size_t{2});
        QCOMPARE(pieces[0], (std::vector<Point>{{0, 5}, {5, 5}, {5, 10}}));
        QCOMPARE(pieces[1], (std::vector<Point>{{8, 10}, {8, 0}}));
        QVERIFY(clipLine(std::vector<Point>{{20, 20}, {30, 30}}, kBox).empty());
        const std::vector<Point> broken{{1, 1}, kNowhere, {2, 2}, {3, 3}};
        QCOMPARE(clipLine(broken, kBox).size(), std::size_t{1});
    }

    void clipsRingsKeepingTheirArea() {
        Random random(4);
        for (int i = 0; i < 50; ++i) {
            // A triangle's part in the box, against counting points.
            std::vector<Point> ring;
            for (int k = 0; k < 3; ++k)
                ring.push_back({random.between(-8, 18), random.between(-8, 18)});
            ring.push_back(ring.front());
            const auto clipped = clipRing(ring, kBox);
            const Geometry whole = Geometry::polygon({ring});
            int inside = 0;
            constexpr int kSteps = 150;
            for (int r = 0; r < kSteps; ++r)
                for (int c = 0; c < kSteps; ++c)
                    inside +=
                        isInside(whole, {(c + 0.5) * 10 / kSteps, (r + 0.5) * 10 / kSteps}) ? 1 : 0;
            const double expected = 100.0 * inside / (kSteps * kSteps);
            const double area = clipped.empty() ? 0 : std::abs(signedArea(clipped));
            QVERIFY2(std::abs(area - expected) < 1.0,
                     qPrintable(QString("%1 %2").arg(area).arg(expected)));
        }
    }

    void simplifiesWithinItsTolerance() {
        Random random(8);
        std::vector<Point> line;
        for (int i = 0; i < 300; ++i) line.push_back({i * 1.0, random.between(-2, 2)});
        const auto thin = simplified(line, 1.0);
        QVERIFY(thin.size() < line.size());
        QCOMPARE(thin.front(), line.front());
        QCOMPARE(thin.back(), line.back());
        const Geometry drawn = Geometry::line(thin);
        for (const Point p : line) QVERIFY(distanceTo(drawn, p) <= 1.0 + 1e-12);
        QCOMPARE(simplified(line, 0).size(), line.size());
    }

    void smoothsWithoutMovingEnds() {
        const std::vector<Point> open{{0, 0}, {10, 0}, {10, 10}};
        const auto round = smoothed(open, 3);
        QCOMPARE(round.front(), open.front());
        QCOMPARE(round.back(), open.back());
        const std::vector<Point> closed{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0, 0}};
        const auto ring = smoothed(closed, 3);
        QCOMPARE(ring.front(), ring.back());
        QVERIFY(signedArea(ring) > 80 && signedArea(ring) < 100);
    }

    void findsFeaturesByBox() {
        Random random(2);
        FeatureList table;
        for (int i = 0; i < 500; ++i)
            table.features.push_back({i, Geometry::point({random.unit(), random.unit()}), {}});
        table.features.push_back({500, {}, {}});
        const FeatureIndex index(table);
        const Box box{0.2, 0.3, 0.5, 0.6};
        std::vector<std::size_t> expected;
        for (std::size_t i = 0; i < 500; ++i)
            if (box.contains(table.features[i].geometry.points[0])) expected.push_back(i);
        QCOMPARE(index.meeting(box), expected);
        QVERIFY(index.meeting({}).empty());
    }

    void invertsAffineMaps() {
        const Affine a{2, 1, 5, -1, 3, 7};
        const Point p{11, -4};
        const Point back = (*a.inverse())(a(p));
        QVERIFY(distance(back, p) < 1e-12);
        QVERIFY(!(Affine{1, 2, 0, 2, 4, 0}).inverse());
    }
};

QTEST_APPLESS_MAIN(GeometryTest)
#include "geometry_test.moc"
