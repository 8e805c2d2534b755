#include "core/globe/grid_lines.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/globe/mapping.h"

namespace ledge::globe {
namespace {
constexpr int kMostLines = 400;
constexpr int kSteps = 48;
constexpr int kDeepest = 7;

class Follower {
public:
    Follower(const crs::Transformation& toMap, const Box& frameBox, double tolerance)
        : m_toMap(toMap),
          m_reach(frameBox.grown(std::max(frameBox.width(), frameBox.height()) * 0.02)),
          m_tolerance(tolerance) {}

    std::vector<std::vector<Point>> follow(Point from, Point to) {
        m_pieces.clear();
        m_isOpen = false;
        Point a = from, mapA = m_toMap.forward(a);
        for (int i = 1; i <= kSteps; ++i) {
            const Point b = from + (to - from) * (static_cast<double>(i) / kSteps);
            const Point mapB = m_toMap.forward(b);
            add(a, mapA, b, mapB, 0);
            a = b, mapA = mapB;
        }
        return std::move(m_pieces);
    }

private:
    void add(Point a, Point mapA, Point b, Point mapB, int depth) {
        const Point middle = (a + b) * 0.5, mapMiddle = m_toMap.forward(middle);
        const bool isWhole = mapA.isFinite() && mapB.isFinite() && mapMiddle.isFinite();
        Box box;
        for (const Point p : {mapA, mapMiddle, mapB}) box.add(p);
        const bool isNear = !box.isEmpty() && box.intersects(m_reach);
        const double bend = isWhole ? distance(mapMiddle, (mapA + mapB) * 0.5) : kNaN;
        const bool isStraight = isWhole && bend <= m_tolerance;
        if (depth < kDeepest && isNear && !isStraight) {
            add(a, mapA, middle, mapMiddle, depth + 1);
            add(middle, mapMiddle, b, mapB, depth + 1);
            return;
        }
        // What is not straight at the last depth jumps: over the gap of an interrupted map, or the
        // far meridian.
        const bool isJump = depth == kDeepest && !isStraight;
        if (!isWhole || isJump || !isNear) {
            m_isOpen = false;
            return;
        }
        if (!m_isOpen) {
            m_pieces.push_back({mapA});
            m_isOpen = true;
        }
        m_pieces.back().push_back(mapB);
    }

    const crs::Transformation& m_toMap;
    Box m_reach;
    double m_tolerance;
    std::vector<std::vector<Point>> m_pieces;
    bool m_isOpen = false;
};
}  // namespace

namespace {
// Multiples of the interval from `low` to `high`.
template <typename Use>
void forEachMultiple(double low, double high, double interval, const Use& use) {
    const auto first = static_cast<std::int64_t>(std::ceil(low / interval - 1e-9));
    const auto last = static_cast<std::int64_t>(std::floor(high / interval + 1e-9));
    for (std::int64_t i = first; i <= last; ++i) use(static_cast<double>(i) * interval);
}

double boundedInterval(const Box& box, double interval) {
    while (std::max(box.width(), box.height()) / interval > kMostLines) interval *= 2;
    return interval;
}

// What of the earth a box of the map shows, in degrees of the grid: longitudes go on over 180, all
// around it where a pole is on the map.
Box shownDegrees(const crs::Transformation& toMap, const Domain& domain, const Box& frameBox) {
    constexpr int kLooks = 24;
    std::vector<Point> looks{frameBox.centre()};
    for (int i = 0; i <= kLooks; ++i)
        for (int j = 0; j <= kLooks; ++j)
            looks.push_back({frameBox.xMin + frameBox.width() * i / kLooks,
                             frameBox.yMin + frameBox.height() * j / kLooks});
    toMap.inverse(looks);
    double about = kNaN;
    Box box;
    Point last = kNowhere, step{0, 0};  // the longest way between neighbours
    for (Point& p : looks) {
        if (p.isFinite()) {
            if (std::isnan(about)) about = p.x;
            p.x = about + std::remainder(p.x - about, 360.0);
            box.add(p);
            if (last.isFinite() && std::abs(p.x - last.x) < 90)
                step = {std::max(step.x, std::abs(p.x - last.x)),
                        std::max(step.y, std::abs(p.y - last.y))};
        }
        last = p;
    }
    if (box.isEmpty()) return box;
    const double middle = domain.kind == Domain::Kind::Strip ? domain.meridian : about;
    const auto allAround = [&] { box.xMin = middle - 180, box.xMax = middle + 180; };
    for (const double pole : {90.0, -90.0})
        if (const Point at = toMap.forward(Point{middle, pole});
            at.isFinite() && frameBox.contains(at)) {
            allAround();
            box.yMin = std::min(box.yMin, pole), box.yMax = std::max(box.yMax, pole);
        }
    // Looks fall short of the edges of what is shown, by a step at most.
    step = {std::max(step.x, box.width() / kLooks), std::max(step.y, box.height() / kLooks)};
    box = {box.xMin - step.x, box.yMin - step.y, box.xMax + step.x, box.yMax + step.y};
    if (box.width() > 180) allAround();
    box.yMin = std::max(box.yMin, -90.0), box.yMax = std::min(box.yMax, 90.0);
    return box;
}

std::vector<GridLine> graticule(const crs::CrsPtr& grid, const crs::CrsPtr& map,
                                const crs::Transformation& toMap, const Box& frameBox,
                                double interval, double tolerance) {
    constexpr double kStep = 45;  // of the lines as they are given, degrees
    std::vector<GridLine> out;
    const auto mapper = Mapper::between(grid, map, tolerance);
    if (!mapper) return out;
    const Box box = shownDegrees(toMap, mapper->domain(), frameBox);
    if (box.isEmpty()) return out;
    interval = boundedInterval(box, interval);
    Mapper::Scratch scratch;
    std::vector<std::uint8_t> seams;
    const auto add = [&](double value, bool isMeridian, Point from, Point to) {
        const double length = std::max(std::abs(to.x - from.x), std::abs(to.y - from.y));
        const auto parts = std::max(1, static_cast<int>(std::ceil(length / kStep)));
        std::vector<Point> line;
        for (int i = 0; i <= parts; ++i) line.push_back(from + (to - from) * (double(i) / parts));
        Geometry image;
        mapper->map(Geometry::line(std::move(line)), image, seams, scratch);
        GridLine made{value, isMeridian, {}};
        for (std::size_t k = 0; k < image.partCount(); ++k) {
            const auto piece = image.part(k);
            Box reach;
            for (const Point p : piece) reach.add(p);
            if (reach.intersects(frameBox)) made.pieces.emplace_back(piece.begin(), piece.end());
        }
        if (!made.pieces.empty()) out.push_back(std::move(made));
    };
    const bool isAround = box.width() >= 360;
    // Meridians stop short of the poles, where they all meet.
    const double rim = std::min(interval, 10.0);
    const Domain& domain = mapper->domain();
    const bool hasPoles = domain.kind == Domain::Kind::Cap || domain.north > 89;
    const double south = std::max(box.yMin, hasPoles ? -90 + rim : -90),
                 north = std::min(box.yMax, hasPoles ? 90 - rim : 90);
    if (south < north)
        forEachMultiple(box.xMin, box.xMax, interval, [&](double v) {
            if (isAround && v >= box.xMin + 360 - 1e-9) return;  // the first one again
            // The meridian of the tear is there on both of its sides.
            const double away = std::remainder(v - domain.meridian, 360.0);
            if (domain.kind == Domain::Kind::Strip && domain.isWhole() &&
                std::abs(away) > 180 - 10 * kHair) {
                for (const double x :
                     {domain.meridian - 180 + 10 * kHair, domain.meridian + 180 - 10 * kHair})
                    add(v, true, {x, south}, {x, north});
                return;
            }
            add(v, true, {v, south}, {v, north});
        });
    forEachMultiple(box.yMin, box.yMax, interval, [&](double v) {
        if (std::abs(v) < 90) add(v, false, {box.xMin, v}, {box.xMax, v});
    });
    return out;
}
}  // namespace

std::vector<GridLine> gridLines(const crs::CrsPtr& grid, const crs::CrsPtr& map,
                                const Box& frameBox, double interval, double tolerance) {
    std::vector<GridLine> out;
    if (frameBox.isEmpty() || !(interval > 0) || !std::isfinite(interval)) return out;
    const auto toMap = crs::Transformation::between(grid, map);
    if (!toMap) return out;
    if (grid && map && grid->isGeographic())
        return graticule(grid, map, *toMap, frameBox, interval, tolerance);
    const Box box = toMap->inverse(frameBox);
    if (box.isEmpty()) return out;
    interval = boundedInterval(box, interval);
    Follower follower(*toMap, frameBox, tolerance);
    const auto add = [&](double value, bool isEasting, Point from, Point to) {
        GridLine line{value, isEasting, follower.follow(from, to)};
        if (!line.pieces.empty()) out.push_back(std::move(line));
    };
    forEachMultiple(box.xMin, box.xMax, interval, [&](double v) {
        add(v, true, {v, box.yMin}, {v, box.yMax});
    });
    forEachMultiple(box.yMin, box.yMax, interval, [&](double v) {
        add(v, false, {box.xMin, v}, {box.xMax, v});
    });
    return out;
}

double roundGraticuleInterval(double degrees) {
    for (const double seconds : {1.0, 2.0, 5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 300.0, 600.0, 900.0,
                                 1800.0, 3600.0, 7200.0, 18000.0, 36000.0, 54000.0, 108000.0})
        if (seconds / 3600 >= degrees * (1 - 1e-9)) return seconds / 3600;
    return 45;
}

std::string graticuleLabel(double degrees, bool isLatitude) {
    double value = degrees;
    if (!isLatitude) value = std::remainder(value, 360.0);
    const auto total = static_cast<std::int64_t>(std::llround(std::abs(value) * 3600));
    std::string out = std::to_string(total / 3600) + "°";
    const auto two = [](std::int64_t n) { return (n < 10 ? "0" : "") + std::to_string(n); };
    if (total % 3600 != 0) out += " " + two(total / 60 % 60) + "′";
    if (total % 60 != 0) out += " " + two(total % 60) + "″";
    if (total == 0 || (!isLatitude && total == 180 * 3600)) return out;
    return out + (isLatitude ? (value < 0 ? " S" : " N") : (value < 0 ? " W" : " E"));
}

}  // namespace ledge::globe
