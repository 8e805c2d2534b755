#include "core/label/placement.h"

#include <QTest>

#include "core/base/random.h"

using namespace ledge;
using namespace ledge::label;

namespace {
bool overlap(const Box& a, const Box& b) {
    return a.xMin < b.xMax && b.xMin < a.xMax && a.yMin < b.yMax && b.yMin < a.yMax;
}
// Whether two stand beside each other as if they were one text.
bool readAsOne(const Box& a, const Box& b) {
    const double apart = 0.25 * std::min(a.height(), b.height());
    return overlap({a.xMin - apart, a.yMin, a.xMax + apart, a.yMax}, b);
}
const Box kPage{0, 0, 800, 600};
}  // namespace

class PlacementTest : public QObject {
    Q_OBJECT

private slots:
    void neverOverlapsOrLeavesThePage_data() {
        QTest::addColumn<int>("seed");
        for (int s = 1; s <= 6; ++s) QTest::addRow("seed %d", s) << s;
    }
    void neverOverlapsOrLeavesThePage() {
        QFETCH(int, seed);
        Random random(static_cast<std::uint64_t>(seed));
        std::vector<Request> requests;
        std::vector<Box> obstacles;
        for (int i = 0; i < 300; ++i) {
            Request r;
            r.rank = random.below(3);
            r.size = random.between(6, 12);
            r.candidates = aroundPoint({random.between(0, 800), random.between(0, 600)}, 4,
                                       {random.between(20, 90), 8, 3});
            requests.push_back(r);
            if (i % 10 == 0) obstacles.push_back(Box{0, 0, 20, 12}.grown(0));
        }
        const auto chosen = place(requests, obstacles, kPage);
        std::vector<Box> taken = obstacles;
        int placed = 0;
        for (std::size_t i = 0; i < requests.size(); ++i) {
            if (!chosen[i]) continue;
            ++placed;
            const Box& box = requests[i].candidates[*chosen[i]].boxes.front();
            QVERIFY(box.xMin >= 0 && box.yMin >= 0 && box.xMax <= 800 && box.yMax <= 600);
            for (std::size_t k = 0; k < taken.size(); ++k)
                QVERIFY(!(k < obstacles.size() ? overlap : readAsOne)(box, taken[k]));
            taken.push_back(box);
        }
        QVERIFY(placed > 60);
        QCOMPARE(place(requests, obstacles, kPage), chosen);
    }

    void prefersTheUpperRightAndGivesWayByRank() {
        Request low, high;
        high.rank = 2;
        low.candidates = high.candidates = aroundPoint({400, 300}, 4, {50, 8, 3});
        const std::vector<Request> both{low, high};
        const auto chosen = place(both, {}, kPage);
        QCOMPARE(*chosen[1], std::size_t{0});
        QVERIFY(*chosen[0] != 0);
        const Box upperRight = high.candidates[0].boxes[0];
        QVERIFY(upperRight.xMin > 400 && upperRight.yMax < 300);
    }

    // More stand than taken one after another, nothing covers anything, and no rank loses one.
    void placesMoreThanInTurn_data() {
        QTest::addColumn<int>("count");
        QTest::addColumn<int>("ranks");
        for (const int count : {300, 600, 1200})
            for (const int ranks : {1, 3})
                QTest::addRow("%d, %d ranks", count, ranks) << count << ranks;
    }
    void placesMoreThanInTurn() {
        QFETCH(int, count);
        QFETCH(int, ranks);
        Random random(static_cast<std::uint64_t>(count + ranks));
        std::vector<Request> requests;
        for (int i = 0; i < count; ++i) {
            Request r;
            r.rank = random.below(ranks);
            r.size = random.between(6, 12);
            r.candidates = aroundPoint({random.between(0, 800), random.between(0, 600)}, 4,
                                       {random.between(20, 90), 8, 3});
            requests.push_back(r);
        }
        const auto inTurn = placeInTurn(requests, {}, kPage), best = place(requests, {}, kPage);
        std::vector<int> before(3, 0), after(3, 0);
        std::vector<Box> taken;
        for (std::size_t i = 0; i < requests.size(); ++i) {
            const auto rank = static_cast<std::size_t>(requests[i].rank);
            before[rank] += inTurn[i] ? 1 : 0;
            after[rank] += best[i] ? 1 : 0;
            if (!best[i]) continue;
            const Box& box = requests[i].candidates[*best[i]].boxes.front();
            for (const Box& other : taken) QVERIFY(!overlap(box, other));
            taken.push_back(box);
        }
        const auto sum = [](const std::vector<int>& all) { return all[0] + all[1] + all[2]; };
        QVERIFY2(sum(after) >= sum(before) * 1.1,
                 qPrintable(QString("%1 of %2").arg(sum(after)).arg(sum(before))));
        for (std::size_t rank = 0; rank < 3; ++rank) QVERIFY(after[rank] >= before[rank]);
        QCOMPARE(place(requests, {}, kPage), best);
    }
    void leavesWhatStoodWhereItStands() {
        Random random(5);
        std::vector<Request> requests;
        for (int i = 0; i < 400; ++i) {
            Request r;
            r.candidates = aroundPoint({random.between(0, 800), random.between(0, 600)}, 4,
                                       {random.between(20, 90), 8, 3});
            requests.push_back(r);
        }
        const std::span<const Request> some(requests.data(), 250);
        const auto before = place(some, {}, kPage);
        for (std::size_t i = 0; i < some.size(); ++i) requests[i].kept = before[i];
        const auto after = place(requests, {}, kPage);
        for (std::size_t i = 0; i < some.size(); ++i)
            if (before[i]) QVERIFY(after[i] == before[i]);
        // A place that is gone is no trouble.
        requests[0].kept = 999;
        QCOMPARE(place(requests, {}, kPage).size(), requests.size());
    }

    void leavesOutWhatFindsNoRoom() {
        Request r;
        r.candidates = centredOn({400, 300}, {50, 8, 3});
        const std::vector<Request> two{r, r};
        const auto chosen = place(two, {}, kPage);
        QVERIFY(chosen[0].has_value());
        QVERIFY(!chosen[1].has_value());
        QVERIFY(!place(std::vector<Request>{r}, std::vector<Box>{kPage}, kPage)[0]);
    }

    void readsUphillOrUpright() {
        const std::vector<Point> west{{700, 300}, {500, 300}, {300, 300}, {100, 300}};
        for (const auto& c : alongLine(west, {60, 8, 3}, 50, false))
            QVERIFY(std::abs(c.angleRadians) < 0.01);
        // Walking west with y down, the left side is south: letters stand on their head, heads
        // uphill.
        for (const auto& c : alongLine(west, {60, 8, 3}, 50, true))
            QVERIFY(std::abs(std::abs(c.angleRadians) - 3.14159265) < 0.01);
    }

    void avoidsBends() {
        std::vector<Point> zigzag;
        for (int i = 0; i < 40; ++i) zigzag.push_back({i * 15.0, 300 + (i % 2) * 60.0});
        QVERIFY(alongLine(zigzag, {140, 8, 3}, 10, false).empty());
        QVERIFY(alongLine(std::vector<Point>{{0, 0}, {10, 0}}, {60, 8, 3}, 10, false).empty());
        QVERIFY(alongLine(std::vector<Point>{}, {60, 8, 3}, 10, false).empty());
    }
};

QTEST_APPLESS_MAIN(PlacementTest)
#include "placement_test.moc"
