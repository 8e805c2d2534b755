#include "core/feature/coarse_shapes.h"

#include <QTest>

#include "core/base/random.h"
#include "core/feature/feature_table.h"

using namespace ledge;

/// Shapes with fewer corners stay as near to the whole ones as they say.
class CoarseShapesTest : public QObject {
    Q_OBJECT

private:
    // Ragged rings around many centres, of so many corners each.
    static FeatureTable ragged(int shapes, int corners) {
        FeatureList list;
        list.info.geometry = GeometryType::Polygon;
        list.info.fields = {{"n", FieldType::Integer}};
        Random random(3);
        for (int i = 0; i < shapes; ++i) {
            const Point centre{1000.0 * (i % 10), 1000.0 * (i / 10)};
            std::vector<Point> ring;
            for (int k = 0; k < corners; ++k) {
                const double angle = 6.283185307179586 * k / corners;
                ring.push_back(centre +
                               Point{std::cos(angle), std::sin(angle)} * random.between(399.9, 400));
            }
            list.features.push_back({i + 1, Geometry::polygon({ring}), {std::int64_t{i}}});
        }
        return list;
    }

private Q_SLOTS:
    void keepsNear() {
        const FeatureTable table = ragged(4, 120'000);
        const auto levels = coarseShapes(table);
        QVERIFY(levels && !levels->empty());
        double finer = 0;
        for (const CoarseShapes& level : *levels) {
            QVERIFY(level.within > finer);
            finer = level.within;
            QCOMPARE(level.table->size(), table.size());
            for (std::size_t row = 0; row < table.size(); ++row) {
                const GeometryView whole = table.geometry(row), thin = level.table->geometry(row);
                QCOMPARE(level.table->key(row), table.key(row));
                QCOMPARE(level.table->number(row, 0), table.number(row, 0));
                QCOMPARE(thin.points.front(), whole.points.front());
                QCOMPARE(thin.points.back(), whole.points.back());
                QVERIFY(thin.points.size() * 2 <= whole.points.size());
                // In step along both: each corner lies near one that was kept.
                std::size_t at = 0;
                for (const Point p : whole.points) {
                    while (at + 1 < thin.points.size() && thin.points[at + 1] == p) ++at;
                    const bool isNear = distance(p, thin.points[at]) <= level.within ||
                                        (at + 1 < thin.points.size() &&
                                         distance(p, thin.points[at + 1]) <= level.within);
                    if (!isNear && thin.points[at] != p) {
                        while (at + 1 < thin.points.size() &&
                               distance(p, thin.points[at]) > level.within)
                            ++at;
                    }
                    QVERIFY(distance(p, thin.points[at]) <= level.within);
                }
            }
        }
    }
    void leavesAloneWhatIsSmall_data() {
        QTest::addColumn<int>("shapes");
        QTest::addColumn<int>("corners");
        QTest::newRow("few points") << 3 << 1000;
        QTest::newRow("few corners") << 20'000 << 12;
    }
    void leavesAloneWhatIsSmall() {
        QFETCH(int, shapes);
        QFETCH(int, corners);
        const auto levels = coarseShapes(ragged(shapes, corners));
        QVERIFY(levels && levels->empty());
    }
    void keepsHolesAndParts() {
        FeatureList list;
        list.info.geometry = GeometryType::Polygon;
        std::vector<Point> outer, hole;
        for (int k = 0; k < 150'000; ++k) {
            const double angle = 6.283185307179586 * k / 150'000;
            outer.push_back(Point{std::cos(angle), std::sin(angle)} * 100.0);
            hole.push_back(Point{std::cos(angle), -std::sin(angle)} * 50.0);
        }
        Geometry shape = Geometry::polygon({outer, hole});
        const Geometry more = Geometry::polygon({{{300, 0}, {301, 0}, {301, 1}}});
        shape.addPart(more, 0, true);
        list.features.push_back({1, shape, {}});
        const auto levels = coarseShapes(FeatureTable(std::move(list)));
        QVERIFY(levels && !levels->empty());
        const GeometryView thin = levels->back().table->geometry(0);
        QCOMPARE(thin.partCount(), std::size_t{3});
        QCOMPARE(thin.polygons.size(), std::size_t{2});
        QCOMPARE(thin.polygons[1], 2U);
        QCOMPARE(thin.part(2).size(), std::size_t{4});
    }
    void canBeStopped() {
        std::stop_source stop;
        stop.request_stop();
        const auto levels = coarseShapes(ragged(20, 20'000), {stop.get_token(), {}});
        QVERIFY(!levels && levels.error().code == ErrorCode::Cancelled);
    }
};

QTEST_APPLESS_MAIN(CoarseShapesTest)
#include "coarse_shapes_test.moc"
