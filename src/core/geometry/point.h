#pragma once
#include <algorithm>
#include <cmath>
#include <limits>

namespace ledge {

/// A position: x is easting or longitude, y northing or latitude, in the unit of its CRS
/// (degrees for geographic ones).
struct Point {
    double x = 0, y = 0;
    bool operator==(const Point&) const = default;
    bool isFinite() const { return std::isfinite(x) && std::isfinite(y); }
};

inline Point operator+(Point a, Point b) { return {a.x + b.x, a.y + b.y}; }
inline Point operator-(Point a, Point b) { return {a.x - b.x, a.y - b.y}; }
inline Point operator*(Point a, double s) { return {a.x * s, a.y * s}; }
inline double distance(Point a, Point b) { return std::hypot(a.x - b.x, a.y - b.y); }

inline constexpr double kNaN = std::numeric_limits<double>::quiet_NaN();
inline constexpr Point kNowhere{kNaN, kNaN};

/// An axis-parallel box; a fresh one is empty. Points that are not finite are passed over.
struct Box {
    double xMin = std::numeric_limits<double>::infinity();
    double yMin = std::numeric_limits<double>::infinity();
    double xMax = -std::numeric_limits<double>::infinity();
    double yMax = -std::numeric_limits<double>::infinity();

    bool operator==(const Box&) const = default;
    bool isEmpty() const { return !(xMin <= xMax && yMin <= yMax); }
    double width() const { return isEmpty() ? 0 : xMax - xMin; }
    double height() const { return isEmpty() ? 0 : yMax - yMin; }
    Point centre() const { return {(xMin + xMax) / 2, (yMin + yMax) / 2}; }
    void add(Point p) {
        if (!p.isFinite()) return;
        xMin = std::min(xMin, p.x), xMax = std::max(xMax, p.x);
        yMin = std::min(yMin, p.y), yMax = std::max(yMax, p.y);
    }
    void add(const Box& other) {
        if (other.isEmpty()) return;
        add(Point{other.xMin, other.yMin});
        add(Point{other.xMax, other.yMax});
    }
    bool contains(Point p) const {
        return p.x >= xMin && p.x <= xMax && p.y >= yMin && p.y <= yMax;
    }
    bool intersects(const Box& o) const {
        return xMin <= o.xMax && o.xMin <= xMax && yMin <= o.yMax && o.yMin <= yMax;
    }
    Box grown(double by) const { return {xMin - by, yMin - by, xMax + by, yMax + by}; }
    Box intersected(const Box& o) const {
        return {std::max(xMin, o.xMin), std::max(yMin, o.yMin), std::min(xMax, o.xMax),
                std::min(yMax, o.yMax)};
    }
};

}  // namespace ledge
