#include "core/terrain/contours.h"

#include <QTest>
#include <map>
#include <random>
#include <set>

#include "core/base/random.h"
#include "core/geometry/measure.h"
#include "core/terrain/contour_sweep.h"

using namespace ledge;
using namespace ledge::terrain;

namespace {
Grid<float> cone(int size, double slope) {
    const auto n = static_cast<std::size_t>(size);
    Grid<float> z(n, n);
    const double middle = (size - 1) / 2.0;
    for (int r = 0; r < size; ++r)
        for (int c = 0; c < size; ++c)
            z(std::size_t(r), std::size_t(c)) =
                static_cast<float>(1000 - slope * std::hypot(r - middle, c - middle));
    return z;
}
const Affine kGrid{1, 0, 0, 0, 1, 0};

double cross(Point o, Point a, Point b) {
    return (a.x - o.x) * (b.y - o.y) - (a.y - o.y) * (b.x - o.x);
}
bool segmentsCross(Point a, Point b, Point c, Point d) {
    const double e = 1e-9;
    return cross(a, b, c) * cross(a, b, d) < -e && cross(c, d, a) * cross(c, d, b) < -e;
}
}  // namespace

namespace {
using Segment = std::pair<std::pair<double, double>, std::pair<double, double>>;

// The same for both directions; positions to 1e-6 cell.
Segment segmentOf(Point a, Point b) {
    const auto rounded = [](Point p) {
        return std::pair(std::round(p.x * 1e6), std::round(p.y * 1e6));
    };
    const auto one = rounded(a), other = rounded(b);
    return one < other ? Segment{one, other} : Segment{other, one};
}

// Square by square and level by level, without any linking.
std::multiset<Segment> plainSegments(BlockView<const float> z, const std::vector<double>& levels) {
    std::multiset<Segment> out;
    for (std::size_t r = 0; r + 1 < z.rows(); ++r)
        for (std::size_t c = 0; c + 1 < z.cols(); ++c) {
            const double nw = z(r, c), ne = z(r, c + 1), sw = z(r + 1, c), se = z(r + 1, c + 1);
            if (std::isnan(nw + ne + sw + se)) continue;
            const double x = double(c) + 0.5, y = double(r) + 0.5;
            for (const double level : levels) {
                const auto along = [&](double a, double b) { return (level - a) / (b - a); };
                const Point top{x + along(nw, ne), y}, bottom{x + along(sw, se), y + 1};
                const Point left{x, y + along(nw, sw)}, right{x + 1, y + along(ne, se)};
                const bool a = nw >= level, b = ne >= level, d = sw >= level, e = se >= level;
                std::vector<Point> met;
                if (a != b) met.push_back(top);
                if (b != e) met.push_back(right);
                if (e != d) met.push_back(bottom);
                if (d != a) met.push_back(left);
                // A saddle: what is at or above belongs together when the mean is.
                if (met.size() == 4 && ((nw + ne + sw + se) / 4 >= level) != a)
                    std::rotate(met.begin(), met.begin() + 1, met.end());
                for (std::size_t i = 0; i + 1 < met.size(); i += 2) {
                    const Segment segment = segmentOf(met[i], met[i + 1]);
                    if (segment.first != segment.second) out.insert(segment);
                }
            }
        }
    return out;
}
}  // namespace

class ContoursTest : public QObject {
    Q_OBJECT

private slots:
    void linksEverySegmentOnce_data() {
        QTest::addColumn<int>("seed");
        QTest::addColumn<double>("steps");  // heights are whole multiples of it; 0: any
        QTest::addColumn<double>("missing");
        for (int seed = 0; seed < 8; ++seed)
            for (const double steps : {0.0, 1.0})
                for (const double missing : {0.0, 0.1})
                    QTest::addRow("%d, steps %g, missing %g", seed, steps, missing)
                        << seed << steps << missing;
    }
    void linksEverySegmentOnce() {
        QFETCH(int, seed);
        QFETCH(double, steps);
        QFETCH(double, missing);
        std::mt19937 engine{static_cast<unsigned>(seed)};
        std::uniform_real_distribution<double> height(0, 6), share(0, 1);
        Grid<float> z(23, 31);
        for (float& v : z.cells()) {
            v = static_cast<float>(steps > 0 ? std::floor(height(engine)) : height(engine));
            if (share(engine) < missing) v = std::numeric_limits<float>::quiet_NaN();
        }
        const std::vector<double> levels{0.5, 1, 2, 2.25, 3, 4.5, 5};
        const auto lines = contours(z.view(), kGrid, {0, 0, levels});
        QVERIFY(lines.has_value());
        std::multiset<Segment> found;
        double before = 0;
        for (const Contour& line : *lines) {
            QVERIFY(line.points.size() > 1);
            QVERIFY(line.level >= before);  // by level
            before = line.level;
            for (std::size_t i = 1; i < line.points.size(); ++i)
                found.insert(segmentOf(line.points[i - 1], line.points[i]));
        }
        const auto plain = plainSegments(z.view(), levels);
        // Shorter ones than the rounding are in neither.
        std::erase_if(found, [](const Segment& s) { return s.first == s.second; });
        QCOMPARE(found.size(), plain.size());
        QVERIFY(found == plain);
    }

    void growsTheSameLinesFromRowsAsTheyCome() {
        const Grid<float> z = cone(64, 7);
        const std::vector<double> levels{800, 850, 900, 950};
        const auto whole = contours(z.view(), kGrid, {0, 0, levels});
        ContourSweep sweep(64, kGrid, levels);
        for (std::size_t r = 0; r < z.rows(); ++r) QVERIFY(sweep.add(z.row(r)));
        const auto swept = sweep.finish();
        QCOMPARE(swept.size(), whole->size());
        for (std::size_t i = 0; i < swept.size(); ++i) {
            QCOMPARE(swept[i].level, (*whole)[i].level);
            QVERIFY(swept[i].points == (*whole)[i].points);
        }
    }

    void drawsCirclesOnACone() {
        const auto lines = contours(cone(101, 10).view(), kGrid, {100, 0, {}});
        QVERIFY(lines.has_value());
        int closed = 0;
        for (const Contour& line : *lines) {
            const double radius = (1000 - line.level) / 10;
            if (radius > 45 || radius < 5) continue;
            ++closed;
            QCOMPARE(line.points.front(), line.points.back());
            for (const Point p : line.points)
                // Linear between cells of a cone: off by at most a fraction of the sagitta of one
                // cell.
                QVERIFY2(std::abs(distance(p, {50.5, 50.5}) - radius) <
                             0.13 / std::max(1.0, radius / 5),
                         qPrintable(QString::number(radius)));
        }
        QCOMPARE(closed, 4);
    }

    void keepsHighGroundOnTheLeft() {
        // World y up: the ring around a summit runs counter-clockwise.
        const Affine north{1, 0, 0, 0, -1, 101};
        const auto lines = contours(cone(101, 10).view(), north, {100, 0, {}});
        for (const Contour& line : *lines)
            if (line.points.front() == line.points.back()) QVERIFY(signedArea(line.points) > 0);
        auto bowl = cone(101, 10);
        for (float& h : bowl.cells()) h = -h;
        const auto hollows = contours(bowl.view(), north, {100, 0, {}});
        for (const Contour& line : *hollows)
            if (line.points.front() == line.points.back()) QVERIFY(signedArea(line.points) < 0);
    }

    void meetsItsLevelExactlyOnGridEdges() {
        Random random(11);
        Grid<float> z(20, 30);
        for (float& h : z.cells()) h = static_cast<float>(random.between(0, 100));
        const auto lines = contours(z.view(), kGrid, {7, 1, {}});
        for (const Contour& line : *lines)
            for (const Point p : line.points) {
                const double x = p.x - 0.5, y = p.y - 0.5;
                const auto c = static_cast<std::size_t>(std::floor(x)),
                           r = static_cast<std::size_t>(std::floor(y));
                const double u = x - double(c), v = y - double(r);
                QVERIFY(u < 1e-9 || v < 1e-9 || u > 1 - 1e-9 || v > 1 - 1e-9);
                const auto at = [&](std::size_t rr, std::size_t cc) {
                    return double(z(std::min<std::size_t>(rr, 19), std::min<std::size_t>(cc, 29)));
                };
                const double h = (at(r, c) * (1 - u) + at(r, c + 1) * u) * (1 - v) +
                                 (at(r + 1, c) * (1 - u) + at(r + 1, c + 1) * u) * v;
                QVERIFY2(std::abs(h - line.level) < 1e-6 * 7,
                         qPrintable(QString::number(h - line.level)));
            }
    }

    void isTopologicallyCleanOnRandomGridsWithNodata_data() {
        QTest::addColumn<int>("seed");
        for (int seed = 1; seed <= 12; ++seed) QTest::addRow("seed %d", seed) << seed;
    }
    void isTopologicallyCleanOnRandomGridsWithNodata() {
        QFETCH(int, seed);
        Random random(static_cast<std::uint64_t>(seed));
        Grid<float> z(14, 17);
        for (float& h : z.cells()) {
            // Whole numbers put many corners exactly on a level.
            h = static_cast<float>(random.below(9));
            if (random.below(25) == 0) h = std::numeric_limits<float>::quiet_NaN();
        }
        const auto lines = contours(z.view(), kGrid, {2, 0.5, {}});
        QVERIFY(lines.has_value());
        std::vector<std::pair<Point, Point>> segments;
        std::map<std::pair<double, double>, int> openEnds;
        for (const Contour& line : *lines) {
            for (std::size_t i = 1; i < line.points.size(); ++i)
                segments.emplace_back(line.points[i - 1], line.points[i]);
            if (line.points.front() == line.points.back()) continue;
            for (const Point end : {line.points.front(), line.points.back()})
                ++openEnds[{end.x, end.y}];
        }
        for (std::size_t i = 0; i < segments.size(); ++i)
            for (std::size_t k = i + 1; k < segments.size(); ++k)
                QVERIFY(!segmentsCross(segments[i].first, segments[i].second, segments[k].first,
                                       segments[k].second));
        // Lines end only on edges at the rim of the data: one of the two squares beside is missing.
        const auto isWhole = [&](int r, int c) {
            if (r < 0 || c < 0 || r + 1 >= 14 || c + 1 >= 17) return false;
            for (const auto& [dr, dc] : {std::pair{0, 0}, {0, 1}, {1, 0}, {1, 1}})
                if (std::isnan(z(std::size_t(r + dr), std::size_t(c + dc)))) return false;
            return true;
        };
        for (const auto& [end, count] : openEnds) {
            const double x = end.first - 0.5, y = end.second - 0.5;
            const int c = int(std::floor(x)), r = int(std::floor(y));
            const bool onRow = std::abs(y - std::round(y)) < 1e-9;
            const bool oneSide =
                onRow ? isWhole(int(std::round(y)) - 1, c) != isWhole(int(std::round(y)), c)
                      : isWhole(r, int(std::round(x)) - 1) != isWhole(r, int(std::round(x)));
            QVERIFY2(oneSide, qPrintable(QString("%1 %2").arg(x).arg(y)));
        }
    }

    void addsNothingForFlatEmptyOrTinyGrids() {
        QVERIFY(contours(Grid<float>(5, 5, 10).view(), kGrid, {10, 5, {}})->empty());
        QVERIFY(contours(Grid<float>().view(), kGrid, {10, 0, {}})->empty());
        QVERIFY(contours(Grid<float>(1, 1, 3).view(), kGrid, {1, 0, {}})->empty());
        QVERIFY(contours(Grid<float>(4, 4, std::numeric_limits<float>::quiet_NaN()).view(), kGrid,
                         {1, 0, {}})
                    ->empty());
    }

    void refusesWrongIntervals() {
        const auto z = cone(9, 1);
        for (const double interval : {0.0, -5.0, kNaN})
            QVERIFY(!contours(z.view(), kGrid, {interval, 0, {}}));
        QCOMPARE(contours(cone(9, 1e6).view(), kGrid, {1, 0, {}}).error().code,
                 ErrorCode::LimitExceeded);
    }

    void listsLevels() {
        QCOMPARE((ContourLevels{10, 5, {}}).within(0, 40), (std::vector<double>{5, 15, 25, 35}));
        QCOMPARE((ContourLevels{10, 0, {30, 10, 10, 90}}).within(0, 50),
                 (std::vector<double>{10, 30}));
        QVERIFY((ContourLevels{25, 0, {}}).isIndex(100, 4));
        QVERIFY(!(ContourLevels{25, 0, {}}).isIndex(125, 4));
        QVERIFY((ContourLevels{25, 0, {}}).isIndex(-200, 4));
    }

    void suggestsRoundIntervalsByScaleAndSlope() {
        // At 1:50 000 half a millimetre is 25 m; on slopes of 0.4 lines 10 m apart in height fit.
        QCOMPARE(suggestedInterval(std::vector<float>(100, 0.4F), 50000), 10.0);
        QCOMPARE(suggestedInterval(std::vector<float>(100, 0.41F), 50000), 20.0);
        QCOMPARE(suggestedInterval(std::vector<float>(100, 0.1F), 50000), 2.5);
        QCOMPARE(suggestedInterval({}, 50000), 5.0);
    }
};

QTEST_APPLESS_MAIN(ContoursTest)
#include "contours_test.moc"
