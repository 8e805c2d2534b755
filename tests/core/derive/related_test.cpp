#include <QTest>
#include <random>

#include "core/derive/gridding.h"
#include "core/derive/related.h"
#include "core/geometry/measure.h"
#include "core/geometry/wkt_shape.h"

using namespace ledge;

/// Features by how they stand to those of another layer; grids of points.
class RelatedTest : public QObject {
    Q_OBJECT

private:
    static FeatureTable tableOf(const QStringList& shapes, const char* field = "name") {
        FeatureList list;
        list.info.name = field;
        list.info.fields = {{field, FieldType::Text}};
        for (const QString& wkt : shapes) {
            auto g = shapeFromWkt(wkt.toStdString());
            list.features.push_back({static_cast<FeatureKey>(list.features.size() + 1),
                                     g ? *g : Geometry(),
                                     {std::string(1, char('a' + list.features.size()))}});
        }
        return FeatureTable(std::move(list));
    }
    static QString square(double x, double y, double side) {
        return QString("POLYGON ((%1 %2, %3 %2, %3 %4, %1 %4, %1 %2))")
            .arg(x)
            .arg(y)
            .arg(x + side)
            .arg(y + side);
    }

private Q_SLOTS:
    // The same rows as asking every pair.
    void findsWhatEveryPairSays_data() {
        QTest::addColumn<int>("relation");
        for (std::size_t i = 0; i < kRelationNames.size(); ++i)
            QTest::newRow(std::string(kRelationNames[i]).c_str()) << static_cast<int>(i);
    }
    void findsWhatEveryPairSays() {
        QFETCH(int, relation);
        const auto how = static_cast<Relation>(relation);
        std::mt19937 random(5);
        std::uniform_int_distribution<int> at(0, 30), side(1, 6);
        const auto some = [&](int count) {
            QStringList out;
            for (int i = 0; i < count; ++i) out << square(at(random), at(random), side(random));
            out << "POINT (3 3)"
                << "LINESTRING (0 0, 30 30)"
                << "";
            return tableOf(out);
        };
        const FeatureTable table = some(200), others = some(25);
        const auto rows = derive::rowsRelated(table, others, how);
        QVERIFY(rows);
        std::vector<std::size_t> expected;
        for (std::size_t i = 0; i < table.size(); ++i) {
            bool any = false, all = true;
            for (std::size_t k = 0; k < others.size(); ++k) {
                const bool is =
                    holds(how, PreparedShape(table.geometry(i)), PreparedShape(others.geometry(k)));
                any = any || is;
                all = all && is;
            }
            if (how == Relation::Disjoint ? all : any) expected.push_back(i);
        }
        QVERIFY(*rows == expected);
        if (how == Relation::Intersects || how == Relation::Disjoint)
            QVERIFY(!rows->empty() && rows->size() < table.size());
    }

    void givesTheAreaWithTheLargestShare() {
        const FeatureTable areas =
            tableOf({square(0, 0, 10), square(10, 0, 10), "POINT (1 1)"}, "parish");
        const FeatureTable table =
            tableOf({square(8, 0, 10), square(1, 1, 2), square(50, 50, 1), square(5, 0, 10),
                     "LINESTRING (9 5, 12 5)", "POINT (11 5)", ""});
        std::vector<std::string> remarks;
        const auto made = derive::withLargestShare(table, areas, {}, remarks);
        QVERIFY(made);
        const int parish = made->fieldIndex("parish"), share = made->fieldIndex("share_percent");
        QVERIFY(parish >= 0 && share >= 0);
        const QStringList expected{"b 80", "a 100", "- -", "a 50", "b 66.667", "b 100", "- -"};
        for (std::size_t i = 0; i < made->size(); ++i) {
            const auto field = static_cast<std::size_t>(parish);
            const double percent = made->number(i, static_cast<std::size_t>(share));
            const QString said =
                (made->isMissing(i, field)
                     ? QString("-")
                     : QString::fromStdString(exactText(made->value(i, field)))) +
                " " + (std::isnan(percent) ? QString("-") : QString::number(percent, 'g', 5));
            QCOMPARE(said, expected[static_cast<qsizetype>(i)]);
        }
        QVERIFY(remarks.front().find("2 features lie in no area") != std::string::npos);
        QVERIFY(!derive::withLargestShare(table, areas, {"no such"}, remarks));
    }

    void fillsCells_data() {
        QTest::addColumn<int>("how");
        QTest::addColumn<QList<double>>("cells");  // rows from the north; NaN as -1
        QTest::newRow("mean") << 0 << QList<double>{-1, 9, 3, -1};
        QTest::newRow("lowest") << 1 << QList<double>{-1, 9, 1, -1};
        QTest::newRow("highest") << 2 << QList<double>{-1, 9, 6, -1};
        QTest::newRow("count") << 3 << QList<double>{-1, 1, 3, -1};
    }
    void fillsCells() {
        QFETCH(int, how);
        QFETCH(QList<double>, cells);
        Box extent;
        extent.add(Point{2, 2});
        extent.add(Point{19, 19});
        auto grid = derive::Gridder::over(extent, 10, static_cast<derive::Gridding>(how));
        QVERIFY(grid);
        grid->add({2, 2}, 1);
        grid->add({3, 9.9}, 2);
        grid->add({9.9, 3}, 6);
        grid->add({10, 19}, 9);
        grid->add({500, 3}, 6);  // outside
        grid->add({5, 5}, how == 3 ? 0 : kNaN);
        QCOMPARE(grid->filled(), std::int64_t{2});
        const RasterPtr raster = grid->finish(nullptr);
        QCOMPARE(raster->info().width, std::int64_t{2});
        QCOMPARE(raster->info().height, std::int64_t{2});
        QCOMPARE(raster->info().extent(), (Box{0, 0, 20, 20}));
        if (how == 3) cells[2] = 4;
        for (int i = 0; i < 4; ++i) {
            const double v = valueAt(*raster, 0, {i % 2 == 0 ? 5.0 : 15.0, i < 2 ? 15.0 : 5.0});
            QCOMPARE(std::isnan(v) ? -1 : v, cells[i]);
        }
    }
    void refusesGridsThatCannotBe() {
        Box extent{0, 0, 1000, 1000};
        QVERIFY(!derive::Gridder::over({}, 1, derive::Gridding::Mean));
        QVERIFY(!derive::Gridder::over(extent, 0, derive::Gridding::Mean));
        QVERIFY(!derive::Gridder::over(extent, kNaN, derive::Gridding::Mean));
        const auto many = derive::Gridder::over(extent, 0.001, derive::Gridding::Mean);
        QVERIFY(!many && many.error().code == ErrorCode::LimitExceeded);
    }
    // The mean of many values far from zero loses nothing by summing.
    void keepsMeansExact() {
        Box extent{0, 0, 1, 1};
        auto grid = derive::Gridder::over(extent, 1, derive::Gridding::Mean);
        QVERIFY(grid);
        for (int i = 0; i < 1'000'000; ++i)
            grid->add({0.5, 0.5}, 3000 + (i % 2 == 0 ? 0.25 : 0.75));
        const double v = valueAt(*grid->finish(nullptr), 0, {0.5, 0.5});
        QVERIFY(std::abs(v - 3000.5) < 0.001);
    }
};

QTEST_APPLESS_MAIN(RelatedTest)
#include "related_test.moc"
