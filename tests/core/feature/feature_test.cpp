#include "core/feature/feature.h"

#include <QTest>

#include "core/feature/reproject.h"
#include "core/feature/summary.h"

using namespace ledge;

namespace {
FeatureTable table() {
    FeatureTable t;
    t.info.name = "t";
    t.info.crs = *crs::crsFromCode(4326);
    t.info.fields = {{"kind", FieldType::Text}, {"n", FieldType::Integer}, {"v", FieldType::Real}};
    const auto add = [&](Value kind, Value n, Value v, Point p) {
        t.features.push_back({std::int64_t(t.features.size()), Geometry::point(p), {kind, n, v}});
    };
    add(std::string("b"), std::int64_t{3}, 0.5, {-10, 61});
    add(std::string("a"), std::int64_t{-1}, Value(), {-10.5, 61.5});
    add(std::string("b"), Value(), 2.5, {-11, 62});
    add(Value(), std::int64_t{3}, kNaN, {-10, 62});
    t.refreshInfo();
    return t;
}
}  // namespace

class FeatureTest : public QObject {
    Q_OBJECT

private slots:
    void tellsValuesForPeopleAndForFiles_data() {
        QTest::addColumn<int>("which");
        QTest::addColumn<QString>("shown");
        QTest::addColumn<QString>("exact");
        QTest::newRow("missing") << 0 << QString::fromUtf8("\u2013") << "";
        QTest::newRow("yes") << 1 << "yes"
                             << "true";
        QTest::newRow("whole") << 2 << QString::fromUtf8("\u221212\u2009345") << "-12345";
        QTest::newRow("real") << 3 << "0.1"
                              << "0.1";
        QTest::newRow("text") << 4 << "Brimvoe"
                              << "Brimvoe";
        QTest::newRow("no number") << 5 << QString::fromUtf8("\u2013") << "";
    }
    void tellsValuesForPeopleAndForFiles() {
        QFETCH(int, which);
        QFETCH(QString, shown);
        QFETCH(QString, exact);
        const Value values[] = {Value(), true, std::int64_t{-12345}, 0.1, std::string("Brimvoe"),
                                kNaN};
        QCOMPARE(QString::fromStdString(displayText(values[which])), shown);
        QCOMPARE(QString::fromStdString(exactText(values[which])), exact);
        QCOMPARE(isMissing(values[which]), exact.isEmpty());
    }

    void neverTakesTextForANumber() {
        QVERIFY(std::isnan(numberOf(std::string("12"))));
        QCOMPARE(numberOf(std::int64_t{7}), 7.0);
        QVERIFY(std::isnan(numberOf(Value())));
    }

    void countsDistinctValuesInOrder() {
        const auto kinds = distinctValues(table(), 0);
        QCOMPARE(kinds.size(), std::size_t{2});
        QCOMPARE(kinds[0].text, std::string("a"));
        QCOMPARE(kinds[1].count, std::int64_t{2});
        const auto numbers = distinctValues(table(), 1);
        QCOMPARE(numbers[0].text, std::string("-1"));
        QCOMPARE(numbers[1].text, std::string("3"));
        QCOMPARE(distinctValues(table(), 0, 1).size(), std::size_t{1});
        QVERIFY(distinctValues(table(), -1).empty());
    }

    void summarisesNumbersAndTellsWhatIsMissing() {
        const NumberSummary s = summarise(table(), 2);
        QCOMPARE(s.count, std::int64_t{2});
        QCOMPARE(s.missing, std::int64_t{2});
        QCOMPARE(s.min, 0.5);
        QCOMPARE(s.max, 2.5);
        QCOMPARE(s.sum, 3.0);
        QVERIFY(std::isnan(summarise(table(), 0).min));
    }

    void knowsItsExtentAndKind() {
        const FeatureTable t = table();
        QCOMPARE(t.info.extent, (Box{-11, 61, -10, 62}));
        QCOMPARE(int(t.info.geometry), int(GeometryType::Point));
        QCOMPARE(t.fieldIndex("v"), 2);
        QCOMPARE(t.fieldIndex("nothing"), -1);
    }

    void reprojectsThereAndBack() {
        const auto there = reprojected(table(), *crs::crsFromCode(3034));
        QVERIFY(there.has_value());
        QCOMPARE(there->info.crs->code, 3034);
        const auto back = reprojected(*there, *crs::crsFromCode(4326));
        for (std::size_t i = 0; i < 4; ++i)
            QVERIFY(distance(back->features[i].geometry.points[0],
                             table().features[i].geometry.points[0]) < 1e-10);
    }

    void namesTheFeatureThatCannotBeReprojected() {
        FeatureTable t = table();
        t.features[2].geometry.points[0] = {170, 0};
        const auto moved = reprojected(t, *crs::crsFromCode(32629));
        QVERIFY(!moved);
        QVERIFY(moved.error().why.find("feature 2") != std::string::npos);
    }

    void leavesUndeclaredCoordinatesAsTheyAre() {
        FeatureTable t = table();
        t.info.crs = nullptr;
        const auto same = reprojected(t, *crs::crsFromCode(32629));
        QCOMPARE(same->features[0].geometry.points[0], (Point{-10, 61}));
        QVERIFY(same->info.crs == nullptr);
    }
};

QTEST_APPLESS_MAIN(FeatureTest)
#include "feature_test.moc"
