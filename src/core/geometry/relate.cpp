#include "core/geometry/relate.h"

#include <algorithm>
#include <cmath>

namespace ledge {
namespace {
// Few sides are looked through faster than a tree.
constexpr std::size_t kManySides = 24;
constexpr auto kInside = Location::Inside, kBoundary = Location::Boundary,
               kOutside = Location::Outside;

bool isLess(Point a, Point b) { return a.x != b.x ? a.x < b.x : a.y < b.y; }

bool isOn(const PreparedShape::Side& side, Point p) {
    return side.box().contains(p) && sideOf(side.from, side.to, p) == 0;
}

int dimensionOf(GeometryType type) {
    switch (type) {
    case GeometryType::Point: return 0;
    case GeometryType::Line: return 1;
    case GeometryType::Polygon: return 2;
    case GeometryType::None: break;
    }
    return -1;
}

// Where along a side something is, from 0 to 1.
double shareOf(const PreparedShape::Side& side, Point p) {
    const Point along = side.to - side.from;
    return std::abs(along.x) >= std::abs(along.y) ? (p.x - side.from.x) / along.x
                                                  : (p.y - side.from.y) / along.y;
}

bool sidesMeet(const PreparedShape::Side& a, const PreparedShape::Side& b) {
    const int a1 = sideOf(b.from, b.to, a.from), a2 = sideOf(b.from, b.to, a.to);
    if (a1 * a2 > 0) return false;
    const int b1 = sideOf(a.from, a.to, b.from), b2 = sideOf(a.from, a.to, b.to);
    if (b1 * b2 > 0) return false;
    if (a1 == 0 && a2 == 0) return a.box().intersects(b.box());
    return true;
}

/// How a side of one shape runs along another: cut where they meet.
struct Run {
    Point middle, from, to;
    bool isOnOther = false;   ///< lies on a side of the other
    bool isSameWay = false;   ///< which leads the same way
    bool leadsOther = false;  ///< and another one the other way
};
struct Cut {
    double at;
    Point point;
};

// The pieces of a side, and the points at which the other's sides touch it.
template <typename OnRun, typename OnPoint>
void cutBy(const PreparedShape::Side& side, const PreparedShape& other, const OnRun& onRun,
           const OnPoint& onPoint) {
    struct Along {
        double from, to;
        bool isSameWay;
    };
    std::vector<Cut> cuts;
    std::vector<Along> alongs;
    other.meeting(side.box(), [&](const PreparedShape::Side& o) {
        const int o1 = sideOf(side.from, side.to, o.from), o2 = sideOf(side.from, side.to, o.to);
        if (o1 == 0 && o2 == 0) {
            const double t1 = shareOf(side, o.from), t2 = shareOf(side, o.to);
            const double from = std::max(0.0, std::min(t1, t2)),
                         to = std::min(1.0, std::max(t1, t2));
            if (from > to) return true;
            const Point first = t1 <= t2 ? o.from : o.to, last = t1 <= t2 ? o.to : o.from;
            cuts.push_back({from, from == 0 ? side.from : first});
            cuts.push_back({to, to == 1 ? side.to : last});
            if (from < to) alongs.push_back({from, to, t2 > t1});
            return true;
        }
        if (o1 * o2 > 0) return true;
        const int s1 = sideOf(o.from, o.to, side.from), s2 = sideOf(o.from, o.to, side.to);
        if (s1 * s2 > 0) return true;
        if (s1 == 0) {
            cuts.push_back({0, side.from});
        } else if (s2 == 0) {
            cuts.push_back({1, side.to});
        } else if (o1 == 0 || o2 == 0) {
            const Point p = o1 == 0 ? o.from : o.to;
            cuts.push_back({std::clamp(shareOf(side, p), 0.0, 1.0), p});
        } else {
            const Point d = side.to - side.from, e = o.to - o.from, f = o.from - side.from;
            const double t = (f.x * e.y - f.y * e.x) / (d.x * e.y - d.y * e.x);
            const double share = std::clamp(t, 0.0, 1.0);
            cuts.push_back({share, side.from + d * share});
        }
        return true;
    });
    std::sort(cuts.begin(), cuts.end(), [](const Cut& a, const Cut& b) { return a.at < b.at; });
    for (const Cut& cut : cuts) onPoint(cut.point);
    double before = 0;
    Point last = side.from;
    const auto run = [&](double to, Point end) {
        if (to <= before) return;
        const double middle = (before + to) / 2;
        Run out{side.from + (side.to - side.from) * middle, last, end};
        for (const Along& along : alongs) {
            if (middle < along.from || middle > along.to) continue;
            out.isOnOther = true;
            (along.isSameWay ? out.isSameWay : out.leadsOther) = true;
        }
        onRun(out);
        before = to;
        last = end;
    };
    for (const Cut& cut : cuts) run(cut.at, cut.point);
    run(1, side.to);
}

class Comparison {
public:
    Comparison(const PreparedShape& a, const PreparedShape& b) : m_a(a), m_b(b) {}

    NineIntersections run() {
        points(m_a, m_b, false);
        points(m_b, m_a, true);
        lines(m_a, m_b, false);
        lines(m_b, m_a, true);
        return m_out;
    }

private:
    void note(bool isTurned, Location a, Location b, int dimension) {
        isTurned ? m_out.note(b, a, dimension) : m_out.note(a, b, dimension);
    }

    // What is told by the points of a point shape and the ends of lines.
    void points(const PreparedShape& one, const PreparedShape& other, bool isTurned) {
        if (one.type() == GeometryType::Point)
            for (const Point p : one.shape().points) note(isTurned, kInside, other.locate(p), 0);
        for (const Point p : one.ends()) note(isTurned, kBoundary, other.locate(p), 0);
        if (other.type() == GeometryType::Polygon && one.type() != GeometryType::Polygon)
            note(isTurned, kOutside, kInside, 2);  // points and lines never fill an area
        if (one.type() == GeometryType::Point && other.type() != GeometryType::Point) {
            note(isTurned, kOutside, kInside, dimensionOf(other.type()));
            if (other.type() == GeometryType::Polygon) note(isTurned, kOutside, kBoundary, 1);
        }
    }

    // What is told by the sides of lines and rings.
    void lines(const PreparedShape& one, const PreparedShape& other, bool isTurned) {
        const bool isArea = one.type() == GeometryType::Polygon,
                   isOtherArea = other.type() == GeometryType::Polygon;
        if (other.type() == GeometryType::Point || one.type() == GeometryType::Point) return;
        const Location own = isArea ? kBoundary : kInside;
        for (const auto& side : one.sides()) {
            cutBy(
                side, other,
                [&](const Run& run) {
                    const Location there = run.isOnOther ? (isOtherArea ? kBoundary : kInside)
                                           : isOtherArea ? other.locate(run.middle)
                                                         : kOutside;
                    note(isTurned, own, there, 1);
                    if (isArea && isOtherArea) beside(run, there, isTurned);
                },
                [&](Point p) {
                    // Where sides cross the point is only nearly on them: it is not located.
                    if (!isArea)
                        note(isTurned, ownLocation(one, p),
                             isOtherArea ? kBoundary : ownLocation(other, p), 0);
                    if (isArea && isOtherArea) note(isTurned, kBoundary, kBoundary, 0);
                });
        }
    }
    // What lies to both sides of a piece of a ring.
    void beside(const Run& run, Location there, bool isTurned) {
        if (there == kInside) {
            note(isTurned, kInside, kInside, 2);
            note(isTurned, kOutside, kInside, 2);
        } else if (there == kOutside) {
            note(isTurned, kInside, kOutside, 2);
        } else {
            if (run.isSameWay) note(isTurned, kInside, kInside, 2);
            if (run.leadsOther) {
                note(isTurned, kInside, kOutside, 2);
                note(isTurned, kOutside, kInside, 2);
            }
        }
    }
    static Location ownLocation(const PreparedShape& line, Point p) {
        const auto ends = line.ends();
        return std::binary_search(ends.begin(), ends.end(), p, isLess) ? kBoundary : kInside;
    }

    const PreparedShape &m_a, &m_b;
    NineIntersections m_out;
};
}  // namespace

int sideOf(Point a, Point b, Point c) {
    const double left = (b.x - a.x) * (c.y - a.y), right = (b.y - a.y) * (c.x - a.x);
    const double det = left - right;
    // Shewchuk, "Adaptive precision floating-point arithmetic", 1997: bound of the first stage.
    constexpr double kBound = 3.3306690738754716e-16;
    if (std::abs(det) > kBound * (std::abs(left) + std::abs(right))) return det > 0 ? 1 : -1;
    __extension__ using Wide = __float128;
    const Wide wide = (Wide(b.x) - Wide(a.x)) * (Wide(c.y) - Wide(a.y)) -
                      (Wide(b.y) - Wide(a.y)) * (Wide(c.x) - Wide(a.x));
    return wide > 0 ? 1 : wide < 0 ? -1 : 0;
}

PreparedShape::PreparedShape(const GeometryView& geometry)
    : m_shape(geometry.type == GeometryType::Polygon ? wound(geometry, true)
                                                     : geometry.toGeometry()),
      m_box(m_shape.box()) {
    if (m_shape.type == GeometryType::Point) {
        std::sort(m_shape.points.begin(), m_shape.points.end(), isLess);
        return;
    }
    std::vector<Point> ends;
    for (std::size_t i = 0; i < m_shape.partCount(); ++i) {
        const auto part = m_shape.part(i);
        for (std::size_t k = 1; k < part.size(); ++k)
            if (part[k] != part[k - 1]) m_sides.push_back({part[k - 1], part[k]});
        if (m_shape.type == GeometryType::Line && part.size() > 1) {
            ends.push_back(part.front());
            ends.push_back(part.back());
        }
    }
    std::sort(ends.begin(), ends.end(), isLess);
    for (std::size_t i = 0; i < ends.size();) {
        std::size_t next = i;
        while (next < ends.size() && ends[next] == ends[i]) ++next;
        if ((next - i) % 2 == 1) m_ends.push_back(ends[i]);
        i = next;
    }
    if (m_sides.size() > kManySides) {
        std::vector<Box> boxes;
        boxes.reserve(m_sides.size());
        for (const Side& side : m_sides) boxes.push_back(side.box());
        m_tree = PackedTree(boxes);
    }
}

Location PreparedShape::locate(Point p) const {
    if (!m_box.contains(p)) return kOutside;
    if (m_shape.type == GeometryType::Point)
        return std::binary_search(m_shape.points.begin(), m_shape.points.end(), p, isLess)
                   ? kInside
                   : kOutside;
    if (m_shape.type == GeometryType::Line) {
        Box here;
        here.add(p);
        const bool isApart = meeting(here, [&](const Side& side) { return !isOn(side, p); });
        if (isApart) return kOutside;
        return std::binary_search(m_ends.begin(), m_ends.end(), p, isLess) ? kBoundary : kInside;
    }
    // Sides that a ray to the right crosses.
    Box ray{p.x, p.y, m_box.xMax, p.y};
    bool isInside = false;
    const bool isOff = meeting(ray, [&](const Side& side) {
        const int where = sideOf(side.from, side.to, p);
        if (where == 0 && side.box().contains(p)) return false;
        const bool isUp = side.from.y <= p.y && side.to.y > p.y,
                   isDown = side.to.y <= p.y && side.from.y > p.y;
        if ((isUp && where > 0) || (isDown && where < 0)) isInside = !isInside;
        return true;
    });
    if (!isOff) return kBoundary;
    return isInside ? kInside : kOutside;
}

NineIntersections nineIntersections(const PreparedShape& a, const PreparedShape& b) {
    return Comparison(a, b).run();
}

bool meets(const PreparedShape& a, const PreparedShape& b) {
    if (a.isEmpty() || b.isEmpty() || !a.box().intersects(b.box())) return false;
    if (a.type() == GeometryType::Point || b.type() == GeometryType::Point) {
        const auto& dots = a.type() == GeometryType::Point ? a : b;
        const auto& other = a.type() == GeometryType::Point ? b : a;
        return std::any_of(dots.shape().points.begin(), dots.shape().points.end(),
                           [&](Point p) { return other.locate(p) != kOutside; });
    }
    // A part that meets no side of the other lies inside or outside as a whole.
    const auto& few = a.sides().size() <= b.sides().size() ? a : b;
    const auto& many = &few == &a ? b : a;
    for (const auto& side : few.sides())
        if (!many.meeting(side.box(), [&](const auto& o) { return !sidesMeet(side, o); }))
            return true;
    const auto anyInside = [](const PreparedShape& one, const PreparedShape& area) {
        if (area.type() != GeometryType::Polygon) return false;
        for (std::size_t i = 0; i < one.shape().partCount(); ++i)
            if (!one.shape().part(i).empty() &&
                area.locate(one.shape().part(i).front()) != kOutside)
                return true;
        return false;
    };
    return anyInside(a, b) || anyInside(b, a);
}

Geometry runsWithin(const PreparedShape& lines, const PreparedShape& area) {
    Geometry out;
    out.type = GeometryType::Line;
    out.isMulti = true;
    for (const auto& side : lines.sides())
        cutBy(
            side, area,
            [&](const Run& run) {
                if (!run.isOnOther && area.locate(run.middle) == kOutside) return;
                // Runs that follow each other are one line.
                if (out.points.empty() || out.points.back() != run.from) {
                    out.beginPart();
                    out.points.push_back(run.from);
                }
                out.points.push_back(run.to);
            },
            [](Point) {});
    return out;
}

bool holds(Relation relation, const PreparedShape& a, const PreparedShape& b) {
    if (relation == Relation::Intersects) return meets(a, b);
    if (relation == Relation::Disjoint) return !meets(a, b);
    if (a.isEmpty() || b.isEmpty() || !a.box().intersects(b.box())) return false;
    const NineIntersections n = nineIntersections(a, b);
    const auto is = [&](Location x, Location y) { return n.at(x, y) >= 0; };
    const int da = dimensionOf(a.type()), db = dimensionOf(b.type());
    const bool isWithin =
        is(kInside, kInside) && !is(kInside, kOutside) && !is(kBoundary, kOutside);
    const bool isAround =
        is(kInside, kInside) && !is(kOutside, kInside) && !is(kOutside, kBoundary);
    switch (relation) {
    case Relation::Within: return isWithin;
    case Relation::Contains: return isAround;
    case Relation::Equals: return isWithin && isAround;
    case Relation::Touches:
        return !is(kInside, kInside) &&
               (is(kInside, kBoundary) || is(kBoundary, kInside) || is(kBoundary, kBoundary));
    case Relation::Crosses:
        if (da == 1 && db == 1) return n.at(kInside, kInside) == 0;
        if (da == db) return false;
        return is(kInside, kInside) && (da < db ? is(kInside, kOutside) : is(kOutside, kInside));
    case Relation::Overlaps:
        return da == db && n.at(kInside, kInside) == da && is(kInside, kOutside) &&
               is(kOutside, kInside);
    case Relation::Intersects:
    case Relation::Disjoint: break;
    }
    return false;
}

}  // namespace ledge
