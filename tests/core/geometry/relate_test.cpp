#include "core/geometry/relate.h"

#include <QTest>

#include "core/base/random.h"
#include "core/geometry/measure.h"
#include "core/geometry/wkt_shape.h"

using namespace ledge;

namespace {
Geometry shape(const char* text) {
    auto out = shapeFromWkt(text);
    return out ? *out : Geometry();
}
std::string matrixText(const NineIntersections& n) {
    std::string out;
    for (const auto& row : n.of)
        for (const int one : row) out += one < 0 ? 'F' : static_cast<char>('0' + one);
    return out;
}
}  // namespace

// The nine intersections and the relations made from them.
class RelateTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    // Worked out by hand from the definition.
    void nine_data() {
        QTest::addColumn<QString>("a");
        QTest::addColumn<QString>("b");
        QTest::addColumn<QString>("matrix");
        const char* square = "POLYGON((0 0, 10 0, 10 10, 0 10, 0 0))";
        const char* ringed = "POLYGON((0 0, 10 0, 10 10, 0 10, 0 0), (4 4, 6 4, 6 6, 4 6, 4 4))";
        const auto row = [](const char* name, const char* a, const char* b, const char* matrix) {
            QTest::newRow(name) << a << b << matrix;
        };
        row("same areas", square, "POLYGON((10 10, 0 10, 0 0, 10 0, 10 10))", "2FFF1FFF2");
        row("apart", square, "POLYGON((20 0, 30 0, 30 10, 20 0))", "FF2FF1212");
        row("overlap", square, "POLYGON((5 5, 15 5, 15 15, 5 15, 5 5))", "212101212");
        row("inside", "POLYGON((2 2, 3 2, 3 3, 2 3, 2 2))", square, "2FF1FF212");
        row("around", square, "POLYGON((2 2, 3 2, 3 3, 2 3, 2 2))", "212FF1FF2");
        row("inside at the edge", "POLYGON((0 0, 3 0, 3 3, 0 3, 0 0))", square, "2FF11F212");
        row("side by side", square, "POLYGON((10 0, 20 0, 20 10, 10 10, 10 0))", "FF2F11212");
        row("at a corner", square, "POLYGON((10 10, 20 10, 20 20, 10 10))", "FF2F01212");
        row("in a hole", ringed, "POLYGON((4.5 4.5, 5.5 4.5, 5.5 5.5, 4.5 4.5))", "FF2FF1212");
        row("filling a hole", ringed, "POLYGON((4 4, 6 4, 6 6, 4 6, 4 4))", "FF2F112F2");
        row("point inside", "POINT(5 5)", square, "0FFFFF212");
        row("point on edge", "POINT(10 5)", square, "F0FFFF212");
        row("points in and out", "MULTIPOINT(5 5, 50 50)", square, "0F0FFF212");
        row("line across", "LINESTRING(-5 5, 15 5)", square, "101FF0212");
        row("line inside", "LINESTRING(2 2, 8 8)", square, "1FF0FF212");
        row("line along the edge", "LINESTRING(0 0, 10 0)", square, "F1FF0F212");
        row("line at a corner", "LINESTRING(-5 5, 5 -5)", square, "F01FF0212");
        row("crossing lines", "LINESTRING(0 0, 10 10)", "LINESTRING(0 10, 10 0)", "0F1FF0102");
        row("same lines", "LINESTRING(0 0, 5 5, 9 9)", "LINESTRING(9 9, 0 0)", "1FFF0FFF2");
        row("partly along", "LINESTRING(0 0, 6 0)", "LINESTRING(3 0, 9 0)", "1010F0102");
        row("end to end", "LINESTRING(0 0, 5 0)", "LINESTRING(5 0, 9 4)", "FF1F00102");
        row("end on a line", "LINESTRING(5 0, 5 5)", "LINESTRING(0 0, 9 0)", "FF10F0102");
        row("point on a line", "POINT(5 0)", "LINESTRING(0 0, 9 0)", "0FFFFF102");
        row("point at an end", "POINT(0 0)", "LINESTRING(0 0, 9 0)", "F0FFFF102");
        row("ring and point", "POINT(0 0)", "LINESTRING(0 0, 9 0, 9 9, 0 0)", "0FFFFF1F2");
        row("points", "MULTIPOINT(1 1, 2 2)", "MULTIPOINT(2 2, 3 3)", "0F0FFF0F2");
    }
    void nine() {
        QFETCH(QString, a);
        QFETCH(QString, b);
        QFETCH(QString, matrix);
        const PreparedShape one(shape(a.toLatin1())), other(shape(b.toLatin1()));
        QCOMPARE(QString::fromStdString(matrixText(nineIntersections(one, other))), matrix);
        // The other way round it is turned.
        QString turned = matrix;
        for (int i = 0; i < 3; ++i)
            for (int j = 0; j < 3; ++j) turned[3 * i + j] = matrix[3 * j + i];
        QCOMPARE(QString::fromStdString(matrixText(nineIntersections(other, one))), turned);
    }

    // Random shapes on a small lattice, so that sides and corners often coincide.
    void relationsAgree() {
        Random random(11);
        const auto grown = [&] {
            const auto at = [&] { return Point{double(random.below(5)), double(random.below(5))}; };
            switch (random.below(4)) {
            case 0: return Geometry::point(at());
            case 1: return Geometry::line({at(), at(), at()});
            default: break;
            }
            const double x = random.below(4), y = random.below(4);
            const double w = 1 + random.below(3), h = 1 + random.below(3);
            if (random.below(2) == 0)
                return Geometry::polygon({{{x, y}, {x + w, y}, {x + w, y + h}, {x, y}}});
            return Geometry::polygon({{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}, {x, y}}});
        };
        int touching = 0, within = 0;
        for (int i = 0; i < 20000; ++i) {
            const Geometry ga = grown(), gb = grown();
            const PreparedShape a(ga), b(gb);
            if (ga.type == GeometryType::Line && a.sides().size() < 2) continue;
            if (gb.type == GeometryType::Line && b.sides().size() < 2) continue;
            const NineIntersections n = nineIntersections(a, b);
            const bool isApart =
                n.of[0][0] < 0 && n.of[0][1] < 0 && n.of[1][0] < 0 && n.of[1][1] < 0;
            QCOMPARE(meets(a, b), !isApart);
            QCOMPARE(holds(Relation::Disjoint, a, b), isApart);
            QCOMPARE(holds(Relation::Within, a, b), holds(Relation::Contains, b, a));
            QCOMPARE(holds(Relation::Equals, a, b),
                     holds(Relation::Within, a, b) && holds(Relation::Contains, a, b));
            for (const auto r : {Relation::Touches, Relation::Overlaps, Relation::Crosses})
                QCOMPARE(holds(r, a, b), holds(r, b, a));
            // At most one of these.
            const int several =
                int(holds(Relation::Touches, a, b)) + int(holds(Relation::Crosses, a, b)) +
                int(holds(Relation::Overlaps, a, b)) +
                int(holds(Relation::Within, a, b) || holds(Relation::Contains, a, b));
            QVERIFY(several <= 1);
            QVERIFY(several == 1 || isApart);
            touching += holds(Relation::Touches, a, b);
            within += holds(Relation::Within, a, b);
        }
        QVERIFY2(touching > 500 && within > 300,
                 qPrintable(QString("%1 %2").arg(touching).arg(within)));
    }

    void locatesAsEvenOddDoes() {
        Random random(5);
        std::vector<Point> ring;
        for (int i = 0; i < 200; ++i)
            ring.push_back({random.between(0, 100), random.between(0, 100)});
        const Geometry star = Geometry::polygon({ring});  // which crosses itself all over
        const PreparedShape prepared(star);
        for (int i = 0; i < 5000; ++i) {
            const Point p{random.between(-5, 105), random.between(-5, 105)};
            QCOMPARE(prepared.locate(p) == Location::Inside, isInside(star, p));
        }
        QCOMPARE(prepared.locate(ring[17]), Location::Boundary);
    }
    void sidesAreExact() {
        // A point that doubles cannot tell from the line by plain arithmetic.
        const Point a{12, 12}, b{24, 24};
        for (int i = 0; i < 64; ++i)
            for (int j = 0; j < 64; ++j) {
                const Point c{0.5 + i * 0x1p-53, 0.5 + j * 0x1p-53};
                QCOMPARE(sideOf(a, b, c), j > i ? 1 : j < i ? -1 : 0);
            }
    }

    void treeFindsWhatBoxesMeet() {
        Random random(9);
        for (const int count : {0, 1, 2, 16, 17, 255, 4000}) {
            std::vector<Box> boxes;
            for (int i = 0; i < count; ++i) {
                if (i % 50 == 7) {
                    boxes.emplace_back();
                    continue;
                }
                const Point p{random.between(-100, 100), random.between(-100, 100)};
                boxes.push_back({p.x, p.y, p.x + random.between(0, 9), p.y + random.between(0, 9)});
            }
            const PackedTree tree(boxes);
            for (int k = 0; k < 50; ++k) {
                const Point p{random.between(-110, 100), random.between(-110, 100)};
                const Box asked{p.x, p.y, p.x + random.between(0, 60), p.y + random.between(0, 60)};
                std::vector<std::size_t> wanted, found;
                for (std::size_t i = 0; i < boxes.size(); ++i)
                    if (!boxes[i].isEmpty() && boxes[i].intersects(asked)) wanted.push_back(i);
                tree.meeting(asked, [&](std::size_t i) {
                    found.push_back(i);
                    return true;
                });
                std::sort(found.begin(), found.end());
                QVERIFY(found == wanted);
            }
        }
    }
};

QTEST_APPLESS_MAIN(RelateTest)
#include "relate_test.moc"
