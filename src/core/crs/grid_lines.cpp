#include "core/crs/grid_lines.h"

#include <cmath>

#include "core/base/numbers.h"

namespace ledge::crs {
namespace {
constexpr int kMostLines = 400;
constexpr int kSteps = 48;
constexpr int kDeepest = 7;

// The box of the map in the grid's CRS; once around the earth where a pole or the far meridian is
// on the map.
Box boxInGrid(const CrsPtr& gridCrs, const Transformation& toMap, const Box& frameBox) {
    Box box = toMap.inverse(frameBox);
    if (!gridCrs || !gridCrs->isGeographic()) return box;
    for (const double pole : {90.0, -90.0}) {
        const Point at = toMap.forward(Point{0, pole});
        if (at.isFinite() && frameBox.contains(at)) {
            box.add(Point{-180, pole});
            box.add(Point{180, pole});
        }
    }
    if (box.width() > 180) box.xMin = -180, box.xMax = 180;
    box.yMin = std::max(box.yMin, -90.0), box.yMax = std::min(box.yMax, 90.0);
    return box;
}

class Follower {
public:
    Follower(const Transformation& toMap, const Box& frameBox, double tolerance)
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

    const Transformation& m_toMap;
    Box m_reach;
    double m_tolerance;
    std::vector<std::vector<Point>> m_pieces;
    bool m_isOpen = false;
};
}  // namespace

std::vector<GridLine> gridLines(const CrsPtr& gridCrs, const Transformation& toMap,
                                const Box& frameBox, double interval, double tolerance) {
    std::vector<GridLine> out;
    const Box box = boxInGrid(gridCrs, toMap, frameBox);
    if (box.isEmpty() || !(interval > 0) || !std::isfinite(interval)) return out;
    while (std::max(box.width(), box.height()) / interval > kMostLines) interval *= 2;
    Follower follower(toMap, frameBox, tolerance);
    const bool isGeographic = gridCrs && gridCrs->isGeographic();
    const auto each = [&](double low, double high, bool isConstantX) {
        const auto first = static_cast<std::int64_t>(std::ceil(low / interval - 1e-9));
        const auto last = static_cast<std::int64_t>(std::floor(high / interval + 1e-9));
        for (std::int64_t i = first; i <= last; ++i) {
            const double v = static_cast<double>(i) * interval;
            if (isGeographic && isConstantX && i > first && v >= 180 && box.xMin <= -180) continue;
            GridLine line{v, isConstantX, {}};
            // Meridians stop short of the poles, where they all meet.
            const double rim = isGeographic && isConstantX ? std::min(interval, 10.0) : 0;
            const double from =
                isConstantX ? std::max(box.yMin, isGeographic ? -90 + rim : box.yMin) : box.xMin;
            const double to =
                isConstantX ? std::min(box.yMax, isGeographic ? 90 - rim : box.yMax) : box.xMax;
            if (!(from < to)) continue;
            line.pieces = isConstantX ? follower.follow({v, from}, {v, to})
                                      : follower.follow({from, v}, {to, v});
            if (!line.pieces.empty()) out.push_back(std::move(line));
        }
    };
    each(box.xMin, box.xMax, true);
    each(box.yMin, box.yMax, false);
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

}  // namespace ledge::crs
