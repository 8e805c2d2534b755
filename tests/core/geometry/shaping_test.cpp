#include <QTest>
#include <numbers>
#include <random>

#include "core/geometry/arcs.h"
#include "core/geometry/measure.h"
#include "core/geometry/relate.h"
#include "core/geometry/shaping.h"
#include "core/geometry/splitting.h"
#include "core/geometry/wkt_shape.h"

using namespace ledge;

/// Shapes changed by hand: vertices, parts, holes, cuts; arcs as chords.
class ShapingTest : public QObject {
    Q_OBJECT

private:
    static Geometry shape(const QString& wkt) {
        auto read = shapeFromWkt(wkt.toStdString());
        return read ? *read : Geometry();
    }
    static QString text(const std::optional<Geometry>& g) {
        return g ? QString::fromStdString(wktOf(*g)) : QString("none");
    }

private Q_SLOTS:
    void touchesWhatIsNearest_data() {
        QTest::addColumn<QString>("wkt");
        QTest::addColumn<QPointF>("at");
        QTest::addColumn<QString>("touched");
        const auto row = [](const char* name, const char* wkt, QPointF at, const char* touched) {
            QTest::newRow(name) << wkt << at << touched;
        };
        const char* line = "LINESTRING (0 0, 10 0, 10 10)";
        row("vertex before side", line, {9.5, 0.2}, "vertex 1 at 10 0");
        row("side", line, {5, 0.4}, "side 0 at 5 0");
        row("second side", line, {10.4, 5}, "side 1 at 10 5");
        row("beyond reach", line, {5, 3}, "nothing");
        row("beyond the end", line, {10.2, 10.9}, "vertex 2 at 10 10");
        row("point", "MULTIPOINT (0 0, 4 4)", {4.1, 4}, "vertex 1 at 4 4");
        row("between parts", "MULTILINESTRING ((0 0, 1 0), (5 0, 6 0))", {3, 0}, "nothing");
    }
    void touchesWhatIsNearest() {
        QFETCH(QString, wkt);
        QFETCH(QPointF, at);
        QFETCH(QString, touched);
        const auto found = touchedAt(shape(wkt), {at.x(), at.y()}, 1);
        QCOMPARE(found ? QString("%1 %2 at %3 %4")
                             .arg(found->isVertex ? "vertex" : "side")
                             .arg(found->point)
                             .arg(found->at.x)
                             .arg(found->at.y)
                       : QString("nothing"),
                 touched);
    }

    void changesOneVertex() {
        const Geometry ring = shape("POLYGON Z ((0 0 1, 4 0 2, 4 4 3, 0 4 4, 0 0 1))");
        QCOMPARE(text(withVertexAt(ring, 0, {1, 1})),
                 text(shape("POLYGON Z ((1 1 1, 4 0 2, 4 4 3, 0 4 4, 1 1 1))")));
        QCOMPARE(text(withVertexAt(ring, 4, {1, 1})), text(withVertexAt(ring, 0, {1, 1})));
        QCOMPARE(text(withVertexAfter(ring, 1, {4, 1})),
                 text(shape("POLYGON Z ((0 0 1, 4 0 2, 4 1 2.25, 4 4 3, 0 4 4, 0 0 1))")));
        QCOMPARE(text(withoutVertex(ring, 2)),
                 text(shape("POLYGON Z ((0 0 1, 4 0 2, 0 4 4, 0 0 1))")));
        QCOMPARE(text(withoutVertex(ring, 0)),
                 text(shape("POLYGON Z ((4 0 2, 4 4 3, 0 4 4, 4 0 2))")));
        QCOMPARE(text(withoutVertex(ring, 4)), text(withoutVertex(ring, 0)));
        QCOMPARE(text(withVertexAfter(ring, 4, {9, 9})), text(ring));  // nothing behind the last
        QCOMPARE(text(withVertexAt(ring, 99, {9, 9})), text(ring));
    }
    void takesPartsAway() {
        const Geometry two =
            shape("MULTIPOLYGON (((0 0, 9 0, 9 9, 0 9, 0 0), (1 1, 1 2, 2 1, 1 1)),"
                  " ((20 0, 21 0, 20 1, 20 0)))");
        // A hole goes alone, an outer ring with its holes.
        QCOMPARE(
            text(withoutVertex(two, 6)),
            text(shape("MULTIPOLYGON (((0 0, 9 0, 9 9, 0 9, 0 0)), ((20 0, 21 0, 20 1, 20 0)))")));
        QCOMPARE(text(withoutPartOf(two, 0)), text(shape("POLYGON ((20 0, 21 0, 20 1, 20 0))")));
        QCOMPARE(text(withoutVertex(two, 10)),
                 text(shape("POLYGON ((0 0, 9 0, 9 9, 0 9, 0 0), (1 1, 1 2, 2 1, 1 1))")));
        QVERIFY(!withoutVertex(shape("POINT (1 2)"), 0));
        QVERIFY(!withoutVertex(shape("LINESTRING (0 0, 1 1)"), 0));
        QCOMPARE(partsOf(two).size(), std::size_t{2});
        QCOMPARE(text(partsOf(two)[0]),
                 text(shape("POLYGON ((0 0, 9 0, 9 9, 0 9, 0 0), (1 1, 1 2, 2 1, 1 1))")));
        QCOMPARE(text(withParts(partsOf(two)[0], partsOf(two)[1])), text(two));
    }
    void putsHolesIntoTheAreaThatHoldsThem() {
        const Geometry two =
            shape("MULTIPOLYGON (((0 0, 9 0, 9 9, 0 9, 0 0)), ((20 0, 29 0, 29 9, 20 9, 20 0)))");
        const Geometry hole = shape("POLYGON ((22 2, 23 2, 22 3, 22 2))");
        const auto made = withHole(two, hole);
        QVERIFY(made);
        QCOMPARE(made->polygons.size(), std::size_t{2});
        QCOMPARE(planarArea(*made), 2 * 81 - 0.5);
        QVERIFY(!isInside(*made, {22.2, 2.2}) && isInside(*made, {5, 5}));
        QVERIFY(!withHole(two, shape("POLYGON ((8 8, 12 8, 12 12, 8 8))")));  // over the side
        QVERIFY(!withHole(two, shape("POLYGON ((12 2, 13 2, 12 3, 12 2))")));
    }

    void cutsAreasAndLines_data() {
        QTest::addColumn<QString>("wkt");
        QTest::addColumn<QString>("cut");
        QTest::addColumn<QList<double>>("sizes");  // sorted; empty: refused
        const auto row = [](const char* name, const char* wkt, const char* cut,
                            QList<double> sizes) { QTest::newRow(name) << wkt << cut << sizes; };
        const char* square = "POLYGON ((0 0, 10 0, 10 10, 0 10, 0 0))";
        row("across", square, "LINESTRING (4 -1, 4 11)", {40, 60});
        row("from corner to corner", square, "LINESTRING (-1 -1, 11 11)", {50, 50});
        row("twice", square, "LINESTRING (4 -1, 4 11, 7 11, 7 -1)", {30, 30, 40});
        row("bent", square, "LINESTRING (-1 5, 5 5, 5 -1)", {25, 75});
        row("ends inside", square, "LINESTRING (-1 5, 5 5)", {});
        row("beside", square, "LINESTRING (-1 20, 20 20)", {});
        row("crosses itself", square, "LINESTRING (-1 5, 11 5, 5 11, 5 -1)", {});
        row("through a hole", "POLYGON ((0 0, 10 0, 10 10, 0 10, 0 0), (4 4, 4 6, 6 6, 6 4, 4 4))",
            "LINESTRING (5 -1, 5 11)", {48, 48});
        row("into a hole", "POLYGON ((0 0, 10 0, 10 10, 0 10, 0 0), (4 4, 4 6, 6 6, 6 4, 4 4))",
            "LINESTRING (5 -1, 5 5)", {});
        row("beside a hole", "POLYGON ((0 0, 10 0, 10 10, 0 10, 0 0), (7 4, 7 6, 9 6, 9 4, 7 4))",
            "LINESTRING (4 -1, 4 11)", {40, 56});
        row("one of two",
            "MULTIPOLYGON (((0 0, 4 0, 4 4, 0 4, 0 0)), ((10 0, 14 0, 14 4, 10 4, "
            "10 0)))",
            "LINESTRING (1 -1, 1 5)", {4, 12, 16});
        row("horseshoe", "POLYGON ((0 0, 9 0, 9 9, 6 9, 6 3, 3 3, 3 9, 0 9, 0 0))",
            "LINESTRING (-1 6, 10 6)", {9, 9, 45});
        row("line", "LINESTRING (0 0, 10 0)", "LINESTRING (3 -1, 3 1)", {3, 7});
        row("line twice", "LINESTRING (0 0, 10 0, 10 10)", "LINESTRING (6 -1, 11 6)",
            {20.0 - 60.0 / 7 - 0, 0});
        row("line beside", "LINESTRING (0 0, 10 0)", "LINESTRING (3 1, 3 2)", {});
        row("points", "MULTIPOINT (0 0, 1 1)", "LINESTRING (3 1, 3 2)", {});
    }
    void cutsAreasAndLines() {
        QFETCH(QString, wkt);
        QFETCH(QString, cut);
        QFETCH(QList<double>, sizes);
        const Geometry whole = shape(wkt);
        const auto pieces = splitAlong(whole, shape(cut));
        QCOMPARE(pieces.has_value(), !sizes.isEmpty());
        if (!pieces) {
            QVERIFY(!pieces.error().mend.empty());
            return;
        }
        QList<double> found;
        double sum = 0;
        for (const Geometry& piece : *pieces) {
            found << (piece.type == GeometryType::Polygon ? planarArea(piece)
                                                          : planarLength(piece));
            sum += found.back();
        }
        std::sort(found.begin(), found.end());
        const double all =
            whole.type == GeometryType::Polygon ? planarArea(whole) : planarLength(whole);
        QVERIFY(std::abs(sum - all) < 1e-9 * all);
        if (sizes.back() == 0) {
            QCOMPARE(found.size(), 3);
            return;
        }
        QCOMPARE(found.size(), sizes.size());
        for (qsizetype i = 0; i < found.size(); ++i) QVERIFY(std::abs(found[i] - sizes[i]) < 1e-9);
    }
    // Random stars cut by random lines: nothing is lost, nothing doubled.
    void losesNothingByCutting() {
        std::mt19937 random(7);
        std::uniform_real_distribution<double> radius(20, 100), away(-60, 60);
        int divided = 0;
        for (int round = 0; round < 400; ++round) {
            std::vector<Point> ring;
            for (int i = 0; i < 17; ++i) {
                const double turn = 2 * std::numbers::pi * i / 17, r = radius(random);
                ring.push_back({5e5 + r * std::cos(turn), 6.8e6 + r * std::sin(turn)});
            }
            const Geometry star = Geometry::polygon({ring});
            const Geometry cut = Geometry::line({{5e5 - 200, 6.8e6 + away(random)},
                                                 {5e5 + away(random), 6.8e6 + away(random)},
                                                 {5e5 + 200, 6.8e6 + away(random)}});
            const auto pieces = splitAlong(star, cut);
            if (!pieces) continue;
            ++divided;
            double sum = 0;
            for (const Geometry& piece : *pieces) {
                sum += planarArea(piece);
                const Point inner = anchorOf(piece);
                QVERIFY(isInside(star, inner));
                int holders = 0;
                for (const Geometry& other : *pieces) holders += isInside(other, inner) ? 1 : 0;
                QCOMPARE(holders, 1);
            }
            QVERIFY2(std::abs(sum - planarArea(star)) < 1e-6 * planarArea(star),
                     qPrintable(QString("round %1").arg(round)));
        }
        QVERIFY(divided > 300);
    }

    void drawsArcs_data() {
        QTest::addColumn<QPointF>("a");
        QTest::addColumn<QPointF>("via");
        QTest::addColumn<QPointF>("b");
        QTest::addColumn<double>("length");  // of the arc
        QTest::newRow("half a circle up")
            << QPointF(-1, 0) << QPointF(0, 1) << QPointF(1, 0) << std::numbers::pi;
        QTest::newRow("and down") << QPointF(-1, 0) << QPointF(0, -1) << QPointF(1, 0)
                                  << std::numbers::pi;
        QTest::newRow("three quarters")
            << QPointF(1, 0) << QPointF(-1, 0) << QPointF(0, -1) << 1.5 * std::numbers::pi;
        QTest::newRow("whole") << QPointF(1, 0) << QPointF(-1, 0) << QPointF(1, 0)
                               << 2 * std::numbers::pi;
        QTest::newRow("straight") << QPointF(0, 0) << QPointF(1, 1) << QPointF(2, 2)
                                  << 2 * std::numbers::sqrt2;
    }
    void drawsArcs() {
        QFETCH(QPointF, a);
        QFETCH(QPointF, via);
        QFETCH(QPointF, b);
        QFETCH(double, length);
        const Point far{512345, 6812345};  // coordinates as maps have them
        const auto at = [&](QPointF p) { return far + Point{p.x(), p.y()}; };
        std::vector<Point> line{at(a)};
        addArcThrough(line, at(a), at(via), at(b));
        QCOMPARE(line.back(), at(b));
        double sum = 0, nearest = 10;
        for (std::size_t i = 1; i < line.size(); ++i) {
            sum += distance(line[i - 1], line[i]);
            if (length != 2 * std::numbers::sqrt2) {
                QVERIFY(std::abs(distance(line[i], far) - 1) < 1e-6);
                const Point middle = (line[i - 1] + line[i]) * 0.5;
                QVERIFY(1 - distance(middle, far) < 1.01 * kArcTolerance);
            }
            nearest = std::min(nearest, distance(line[i], at(via)));
        }
        QVERIFY(std::abs(sum / length - 1) < kArcTolerance);
        QVERIFY(nearest < 0.1);  // it goes by way of the middle point, not the other way round
    }
};

QTEST_APPLESS_MAIN(ShapingTest)
#include "shaping_test.moc"
