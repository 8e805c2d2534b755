#include "core/symbol/hatch.h"

#include <QTest>

#include "core/base/random.h"
#include "core/geometry/measure.h"
#include "core/symbol/dots.h"

using namespace ledge;

namespace {
using Rings = std::vector<std::vector<Point>>;
const Rings kRing{{{0, 0}, {100, 0}, {100, 60}, {0, 60}}, {{40, 20}, {60, 20}, {60, 40}, {40, 40}}};

bool isInside(const Rings& rings, Point p) {
    bool inside = false;
    for (const auto& ring : rings)
        for (std::size_t i = 0, k = ring.size() - 1; i < ring.size(); k = i++)
            if ((ring[i].y > p.y) != (ring[k].y > p.y) &&
                p.x < (ring[k].x - ring[i].x) * (p.y - ring[i].y) / (ring[k].y - ring[i].y) +
                          ring[i].x)
                inside = !inside;
    return inside;
}
Geometry polygon(const Rings& rings) { return Geometry::polygon(rings); }
}  // namespace

/// Patterns, lines beside lines and strewn dots, as geometry.
class HatchTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void liesInside_data() {
        QTest::addColumn<double>("degrees");
        for (const double d : {0.0, 17.0, 45.0, 90.0, 135.0}) QTest::addRow("%g", d) << d;
    }
    void liesInside() {
        QFETCH(double, degrees);
        const auto lines = hatched(kRing, 3, degrees, {5, 7});
        QVERIFY(lines.size() > 15);
        double length = 0;
        const double angle = degrees * M_PI / 180;
        for (const auto& [from, to] : lines) {
            length += distance(from, to);
            for (const double t : {0.01, 0.5, 0.99})
                QVERIFY(isInside(kRing, from + (to - from) * t));
            // Rising to the right, at multiples of the spacing from the origin.
            const Point d = to - from;
            QVERIFY(std::abs(d.x * std::sin(angle) + d.y * std::cos(angle)) < 1e-6);
            const Point o = from - Point{5, 7};
            const double off = o.x * std::sin(angle) + o.y * std::cos(angle);
            QVERIFY(std::abs(std::remainder(off, 3)) < 1e-6);
        }
        // Lines three apart cover a third of the area, about.
        QVERIFY(std::abs(length * 3 - (6000 - 400)) < 400);
        for (const Point p : studded(kRing, 5, degrees, {5, 7})) QVERIFY(isInside(kRing, p));
        QVERIFY(std::abs(double(studded(kRing, 5, degrees, {}).size()) - 5600.0 / 25) < 40);
    }
    void refusesWhatIsNoPattern() {
        QVERIFY(hatched(kRing, 0, 45, {}).empty());
        QVERIFY(hatched(kRing, -1, 45, {}).empty());
        QVERIFY(hatched(kRing, 1e-9, 45, {}).empty());
        QVERIFY(hatched(Rings{}, 3, 45, {}).empty());
        QVERIFY(hatched(Rings{{}}, 3, 45, {}).empty());
    }
    void goesBeside() {
        const std::vector<Point> line{{0, 0}, {100, 0}, {100, 100}};
        const auto right = beside(line, 10);
        QCOMPARE(right.size(), std::size_t{3});
        QVERIFY(distance(right[0], {0, 10}) < 1e-9);
        QVERIFY(distance(right[1], {90, 10}) < 1e-9);
        QVERIFY(distance(right[2], {90, 100}) < 1e-9);
        QVERIFY(distance(beside(line, -10)[1], {110, -10}) < 1e-9);
        // A ring stays closed; doubled points and single ones do no harm.
        const std::vector<Point> ring{{0, 0}, {10, 0}, {10, 10}, {0, 10}, {0, 0}};
        const auto inner = beside(ring, 1);
        QVERIFY(inner.front() == inner.back());
        QVERIFY(distance(inner[0], {1, 1}) < 1e-9);
        QCOMPARE(beside(std::vector<Point>{{1, 1}, {1, 1}}, 3).size(), std::size_t{2});
        QCOMPARE(beside(line, 0), line);
    }

    void strewsInside() {
        const Geometry shape = polygon(kRing);
        const std::int64_t counts[] = {120, 60};
        const StrewnDots dots = strewn(shape, counts, 7);
        QCOMPARE(dots.at.size(), std::size_t{180});
        QCOMPARE(std::count(dots.kind.begin(), dots.kind.end(), 0), 120);
        // Even on a scan line's edge a dot is no further than rounding from the inside.
        double nearest = INFINITY;
        for (std::size_t i = 0; i < dots.at.size(); ++i) {
            QVERIFY(isInside(kRing, dots.at[i]));
            for (std::size_t k = i + 1; k < dots.at.size(); ++k)
                nearest = std::min(nearest, distance(dots.at[i], dots.at[k]));
        }
        // Apart: of so many strewn blindly two would lie ten times as near.
        const double side = std::sqrt(5600.0 / 180);
        QVERIFY2(nearest > side * 0.2, qPrintable(QString::number(nearest / side)));
        // Kinds are mixed, not one after another.
        const auto firsts = std::count(dots.kind.begin(), dots.kind.begin() + 90, 0);
        QVERIFY(firsts > 40 && firsts < 80);
    }
    void strewsTheSameAgain() {
        const Geometry shape = polygon(kRing);
        const std::int64_t counts[] = {200};
        const StrewnDots one = strewn(shape, counts, 7), two = strewn(shape, counts, 7);
        QVERIFY(one.at == two.at);
        QVERIFY(!(strewn(shape, counts, 8).at == one.at));
    }
    void strewsNothingOnNothing() {
        const std::int64_t some[] = {10}, none[] = {0}, less[] = {-5}, many[] = {10'000'000};
        QVERIFY(strewn(Geometry(), some, 1).at.empty());
        QVERIFY(strewn(Geometry::line({{0, 0}, {1, 1}}), some, 1).at.empty());
        QVERIFY(strewn(polygon({{{0, 0}, {1, 0}, {2, 0}}}), some, 1).at.empty());
        QVERIFY(strewn(polygon(kRing), none, 1).at.empty());
        QVERIFY(strewn(polygon(kRing), less, 1).at.empty());
        QCOMPARE(strewn(polygon(kRing), many, 1).at.size(), std::size_t{100'000});
    }

    // None in the areas that are left out, however they lie, and as many as asked for elsewhere.
    void strewsOutsideOfOtherAreas() {
        const auto square = [](double x, double y, double side) {
            return Geometry::polygon(
                {{{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}, {x, y}}});
        };
        const Geometry field = square(0, 0, 100);
        const Geometry lake = square(20, 30, 50), edge = square(80, -10, 200),
                       far = square(500, 500, 9);
        const std::vector<GeometryView> out{lake, edge, far};
        const std::int64_t counts[] = {700};
        const StrewnDots dots = strewn(field, counts, 5, out);
        QCOMPARE(dots.at.size(), std::size_t{700});
        for (const Point p : dots.at) {
            QVERIFY(p.x >= 0 && p.x <= 80 && p.y >= 0 && p.y <= 100);
            QVERIFY2(!(p.x > 20 && p.x < 70 && p.y > 30.2 && p.y < 79.8),
                     qPrintable(QString("%1 %2").arg(p.x).arg(p.y)));
        }
        // Wholly inside another it takes none.
        const Geometry all = square(-10, -10, 300);
        const std::vector<GeometryView> whole{all};
        QVERIFY(strewn(field, counts, 5, whole).at.empty());
        // Without any it is what it was.
        QVERIFY(strewn(field, counts, 5).at == strewn(field, counts, 5, {}).at);
    }
};

QTEST_APPLESS_MAIN(HatchTest)
#include "hatch_test.moc"
