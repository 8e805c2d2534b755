#include "core/label/curve_places.h"

#include <QTest>
#include <cmath>

#include "core/base/random.h"
#include "core/label/cost_field.h"

using namespace ledge;
using namespace ledge::label;

namespace {
const TextSize kHeight{0, 8, 3};
const std::vector<double> kWord(9, 7.0);  // nine letters

std::vector<Point> arc(double radius, double from, double to) {
    std::vector<Point> out;
    for (int i = 0; i <= 200; ++i) {
        const double a = from + (to - from) * i / 200;
        out.push_back({400 + radius * std::cos(a), 300 + radius * std::sin(a)});
    }
    return out;
}
}  // namespace

/// Text along bent lines, and the middle lines of areas.
class CurvePlacesTest : public QObject {
    Q_OBJECT

private Q_SLOTS:
    void setsLettersOnTheLine() {
        const auto line = arc(150, M_PI, 2 * M_PI);  // over the top, left to right
        for (const double lift : {0.0, 5.0, -4.0}) {
            const auto letters = lettersAlong(line, kWord, 60, false, lift);
            QCOMPARE(letters.size(), kWord.size());
            for (std::size_t i = 0; i < letters.size(); ++i) {
                const double a = letters[i].angleRadians;
                const Point along{std::cos(a), std::sin(a)};
                const Point middle = letters[i].origin + along * (kWord[i] / 2);
                QVERIFY(std::abs(distance(middle, {400, 300}) - (150 + lift)) < 0.2);
                if (i > 0) QVERIFY(letters[i].origin.x > letters[i - 1].origin.x);
            }
        }
    }
    // Whichever way the line runs, text reads from left to right, its head up.
    void neverStandsOnItsHead_data() {
        QTest::addColumn<int>("seed");
        for (int i = 1; i <= 20; ++i) QTest::addRow("%d", i) << i;
    }
    void neverStandsOnItsHead() {
        QFETCH(int, seed);
        Random random(static_cast<std::uint64_t>(seed));
        std::vector<Point> line{{400, 300}};
        double heading = random.between(0, 2 * M_PI);
        for (int i = 0; i < 120; ++i) {
            heading += random.between(-0.12, 0.12);
            line.push_back(line.back() + Point{std::cos(heading), std::sin(heading)} * 5.0);
        }
        for (const Candidate& at : alongCurve(line, kWord, kHeight, 10, 3)) {
            QVERIFY(at.from.has_value());
            const auto letters = lettersAlong(line, kWord, *at.from, at.isReversed, 3);
            QVERIFY(letters.back().origin.x > letters.front().origin.x - 12);
            for (std::size_t i = 0; i < letters.size(); ++i) {
                QVERIFY(std::cos(letters[i].angleRadians) > -0.21);
                if (i == 0) continue;
                const double turn =
                    std::remainder(letters[i].angleRadians - letters[i - 1].angleRadians, 2 * M_PI);
                QVERIFY(std::abs(turn) < 26 * M_PI / 180);
            }
            QVERIFY(at.boxes.size() >= kWord.size());
        }
    }
    void keepsOffSharpBends() {
        const std::vector<Point> corner{{100, 300}, {160, 300}, {160, 240}};
        for (const Candidate& at : alongCurve(corner, kWord, kHeight, 2, 0)) QVERIFY(!at.from);
        QVERIFY(alongCurve(std::vector<Point>{{0, 0}, {20, 0}}, kWord, kHeight, 2, 0).empty());
        QVERIFY(alongCurve(std::vector<Point>{}, kWord, kHeight, 2, 0).empty());
        QVERIFY(alongCurve(corner, {}, kHeight, 2, 0).empty());
    }
    void prefersStraightLevelPlaces() {
        std::vector<Point> line;
        for (int i = 0; i <= 60; ++i) line.push_back({i * 5.0, 300});
        for (int i = 1; i <= 60; ++i) line.push_back({300 + i * 3.0, 300 - i * 4.0});
        const auto places = alongCurve(line, kWord, kHeight, 5, 0);
        QVERIFY(places.size() > 5);
        const auto best = std::min_element(
            places.begin(), places.end(),
            [](const Candidate& a, const Candidate& b) { return a.cost < b.cost; });
        QVERIFY(std::abs(best->angleRadians) < 0.05);
    }

    void findsTheMiddleOfABand() {
        // A bent band thirty wide: its middle line is the arc it was made of.
        const auto outer = arc(215, M_PI * 1.05, M_PI * 1.95),
                   inner = arc(185, M_PI * 1.95, M_PI * 1.05);
        std::vector<Point> ring = outer;
        ring.insert(ring.end(), inner.begin(), inner.end());
        ring.push_back(ring.front());
        const auto axis = axisOf(std::vector<std::vector<Point>>{ring});
        QVERIFY(axis.size() > 10);
        QVERIFY(axis.front().x < axis.back().x);
        for (std::size_t i = 3; i + 3 < axis.size(); ++i)
            QVERIFY2(std::abs(distance(axis[i], {400, 300}) - 200) < 18,
                     qPrintable(QString::number(distance(axis[i], {400, 300}))));
    }
    void hasNoMiddleOfARound() {
        const auto round = arc(80, 0, 2 * M_PI);
        QVERIFY(axisOf(std::vector<std::vector<Point>>{round}).empty());
        QVERIFY(axisOf(std::vector<std::vector<Point>>{}).empty());
        QVERIFY(axisOf(std::vector<std::vector<Point>>{{{1, 1}, {1, 1}}}).empty());
    }

    void weighsWhatIsCovered() {
        CostField field({0, 0, 200, 100});
        const Box on[] = {{90, 40, 130, 52}}, off[] = {{90, 70, 130, 82}};
        QVERIFY(field.isEmpty());
        QCOMPARE(field.over(on), 0.0);
        field.add(std::vector<Point>{{0, 46}, {200, 46}}, 3);
        QVERIFY(field.over(on) > 0.5);
        QCOMPARE(field.over(off), 0.0);
        field.add(std::vector<Point>{{-1e9, 5}, {1e9, 5}}, 3);  // far beyond: left alone
        field.add(std::vector<Point>{{0, 46}, {200, 46}}, 0);
        const Box beyond[] = {{-50, -50, -10, -10}};
        QVERIFY(std::isfinite(field.over(beyond)));
    }
};

QTEST_APPLESS_MAIN(CurvePlacesTest)
#include "curve_places_test.moc"
