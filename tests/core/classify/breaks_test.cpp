#include "core/classify/breaks.h"

#include <QTest>

#include "core/base/numbers.h"
#include "core/geometry/point.h"
#include "core/base/random.h"

using namespace ledge;
using namespace ledge::classify;

/// Classes of numbers, held against trying all there are.
class BreaksTest : public QObject {
    Q_OBJECT

private:
    static double within(const std::vector<double>& sorted, std::size_t begin, std::size_t end) {
        double sum = 0, squares = 0;
        for (std::size_t i = begin; i < end; ++i) sum += sorted[i];
        const double mean = sum / static_cast<double>(end - begin);
        for (std::size_t i = begin; i < end; ++i)
            squares += (sorted[i] - mean) * (sorted[i] - mean);
        return squares;
    }
    // The least that any division into so many classes leaves.
    static double least(const std::vector<double>& sorted, std::size_t from, int classes) {
        if (classes == 1) return within(sorted, from, sorted.size());
        double best = INFINITY;
        for (std::size_t end = from + 1;
             end + static_cast<std::size_t>(classes) <= sorted.size() + 1; ++end)
            best = std::min(best, within(sorted, from, end) + least(sorted, end, classes - 1));
        return best;
    }
    static double left(const std::vector<double>& sorted, const std::vector<double>& breaks) {
        double sum = 0;
        std::size_t begin = 0;
        for (std::size_t i = 1; i <= sorted.size(); ++i)
            if (i == sorted.size() || classOf(sorted[i], breaks) != classOf(sorted[begin], breaks))
                sum += within(sorted, begin, i), begin = i;
        return sum;
    }
    static std::vector<double> breaks(const std::vector<double>& values, Method method,
                                      int classes) {
        const auto found = breaksOf(Sample(values), method, classes);
        return found ? *found : std::vector<double>{-999};
    }

private Q_SLOTS:
    void naturalOnesAreTheBest_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 40; ++seed) QTest::addRow("%d", seed) << seed;
    }
    void naturalOnesAreTheBest() {
        QFETCH(int, seed);
        Random random(static_cast<std::uint64_t>(seed));
        std::vector<double> values;
        const int count = 6 + random.below(9), classes = 2 + random.below(4);
        for (int i = 0; i < count; ++i) {
            const double shift = seed % 4 == 0 ? 1e6 : 0;
            values.push_back(seed % 3 == 0 ? random.below(6) : shift + random.between(-50, 50));
        }
        const auto found = breaks(values, Method::Natural, classes);
        std::sort(values.begin(), values.end());
        std::vector<double> distinct = values;
        distinct.erase(std::unique(distinct.begin(), distinct.end()), distinct.end());
        const int most = std::min(classes, static_cast<int>(distinct.size()));
        QCOMPARE(static_cast<int>(found.size()), most - 1);
        const double wanted = least(values, 0, most), is = left(values, found);
        QVERIFY2(is <= wanted + 1e-9 * (1 + wanted),
                 qPrintable(QString("%1 instead of %2").arg(is).arg(wanted)));
    }

    void findsWhatIsKnown_data() {
        QTest::addColumn<QVector<double>>("values");
        QTest::addColumn<int>("method");
        QTest::addColumn<int>("classes");
        QTest::addColumn<QVector<double>>("wanted");
        const auto row = [](const char* name, QVector<double> values, Method method, int classes,
                            QVector<double> wanted) {
            QTest::newRow(name) << std::move(values) << static_cast<int>(method) << classes
                                << std::move(wanted);
        };
        row("three heaps", {1, 2, 2, 3, 10, 11, 12, 30, 31}, Method::Natural, 3, {10, 20});
        row("halves", {1, 2, 3, 4}, Method::Quantile, 2, {3});
        row("equal ones stay together", {1, 1, 1, 1, 5, 6}, Method::Quantile, 3, {3});
        row("as wide", {0, 100}, Method::Equal, 4, {25, 50, 75});
        row("round", {3, 47}, Method::Round, 5, {10, 20, 30, 40});
        row("round below 0", {-0.7, 1.2}, Method::Round, 4, {0, 1});
        row("geometric", {1, 5, 50, 500, 1000}, Method::Geometric, 3, {10, 100});
        row("one value", {7, 7, 7}, Method::Natural, 5, {});
        row("two values", {7, 9}, Method::Natural, 5, {8});
        row("deviations", {-2, -1, 0, 1, 2}, Method::Deviation, 3, {-0.7, 0.7});
    }
    void findsWhatIsKnown() {
        QFETCH(QVector<double>, values);
        QFETCH(int, method);
        QFETCH(int, classes);
        QFETCH(QVector<double>, wanted);
        const auto found =
            breaks({values.begin(), values.end()}, static_cast<Method>(method), classes);
        QStringList said;
        for (const double at : found) said << QString::fromStdString(exactNumber(at));
        QVERIFY2(found == std::vector<double>(wanted.begin(), wanted.end()),
                 qPrintable(said.join(" ")));
    }

    // Whatever the method: ascending, within the range, and short without moving a value.
    void holdsForAll_data() {
        QTest::addColumn<int>("method");
        for (int m = 0; m < static_cast<int>(Method::Own); ++m) QTest::addRow("%d", m) << m;
    }
    void holdsForAll() {
        QFETCH(int, method);
        Random random(7);
        for (int round = 0; round < 60; ++round) {
            std::vector<double> values;
            const int count = 1 + random.below(400);
            for (int i = 0; i < count; ++i) values.push_back(std::exp(random.between(-3, 9)));
            const int classes = 1 + random.below(9);
            const Sample sample(values);
            const auto found = breaksOf(sample, static_cast<Method>(method), classes);
            QVERIFY(found);
            QVERIFY(static_cast<int>(found->size()) < std::max(2, classes));
            QVERIFY(std::is_sorted(found->begin(), found->end()));
            QVERIFY(std::adjacent_find(found->begin(), found->end()) == found->end());
            for (const double at : *found) QVERIFY(at > sample.low() && at <= sample.high());
            const auto counts = countsOf(sample, *found);
            std::vector<std::int64_t> byHand(found->size() + 1, 0);
            for (const double v : values) ++byHand[classOf(v, *found)];
            QVERIFY(counts == byHand);
            const double fit = goodnessOf(sample, *found);
            QVERIFY(fit >= -1e-9 && fit <= 1 + 1e-9);
            const auto best =
                breaksOf(sample, Method::Natural, static_cast<int>(found->size()) + 1);
            QVERIFY(goodnessOf(sample, *best) >= fit - 1e-9);
        }
    }

    void leavesOutWhatIsNoNumber() {
        const Sample sample({1, kNaN, 2, INFINITY, 3});
        QCOMPARE(sample.count(), std::int64_t{3});
        QCOMPARE(sample.missing(), std::int64_t{2});
        QVERIFY(!breaksOf(Sample({kNaN}), Method::Natural, 5));
        QVERIFY(!breaksOf(Sample({-1, 2}), Method::Geometric, 3));
        QCOMPARE(breaks({-100, -10, -1}, Method::Geometric, 2), (std::vector<double>{-10}));
        std::int64_t sum = 0;
        for (const std::int64_t n : sample.histogram(7, 1, 3)) sum += n;
        QCOMPARE(sum, std::int64_t{3});
    }

    void writesShort_data() {
        QTest::addColumn<double>("below");
        QTest::addColumn<double>("above");
        QTest::addColumn<double>("wanted");
        QTest::newRow("tens") << 7.3 << 12.9 << 10.0;
        QTest::newRow("tenths") << 0.31 << 0.47 << 0.4;
        QTest::newRow("next to each other")
            << 1.0 << std::nextafter(1.0, 2) << std::nextafter(1.0, 2);
        QTest::newRow("about zero") << -3.0 << 0.002 << 0.0;
        QTest::newRow("below zero") << -47.0 << -31.0 << -40.0;
        QTest::newRow("large") << 123456.0 << 123499.0 << 123480.0;
    }
    void writesShort() {
        QFETCH(double, below);
        QFETCH(double, above);
        QFETCH(double, wanted);
        QCOMPARE(shortestBetween(below, above), wanted);
    }

    void canBeStopped() {
        std::vector<double> values;
        for (int i = 0; i < 1000; ++i) values.push_back(i);
        std::stop_source stop;
        stop.request_stop();
        const auto done = breaksOf(Sample(values), Method::Natural, 5, {stop.get_token(), {}});
        QVERIFY(!done && done.error().code == ErrorCode::Cancelled);
    }
};

QTEST_APPLESS_MAIN(BreaksTest)
#include "breaks_test.moc"
