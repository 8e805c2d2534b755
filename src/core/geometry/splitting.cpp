#include "core/geometry/splitting.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <optional>

#include "core/geometry/measure.h"
#include "core/geometry/relate.h"
#include "core/geometry/shaping.h"

namespace ledge {
namespace {
using Ring = std::vector<Point>;

struct ByPlace {
    bool operator()(Point a, Point b) const { return a.x != b.x ? a.x < b.x : a.y < b.y; }
};

// Where two sides cross or touch, as shares of the first; ends count.
std::optional<double> crossing(Point a, Point b, Point c, Point d) {
    const Point u = b - a, v = d - c, w = c - a;
    const double cross = u.x * v.y - u.y * v.x;
    if (cross == 0) return {};
    const double s = (w.x * v.y - w.y * v.x) / cross, t = (w.x * u.y - w.y * u.x) / cross;
    if (s < 0 || s > 1 || t < 0 || t > 1) return {};
    return s;
}

bool crossesItself(const GeometryView& line) {
    const auto p = line.part(0);
    for (std::size_t i = 0; i + 1 < p.size(); ++i)
        for (std::size_t k = i + 2; k + 1 < p.size(); ++k)
            if (crossing(p[i], p[i + 1], p[k], p[k + 1])) return true;
    return false;
}

std::vector<Geometry> linePieces(const GeometryView& shape, const GeometryView& cut) {
    std::vector<Geometry> out;
    const auto knife = cut.part(0);
    for (std::size_t part = 0; part < shape.partCount(); ++part) {
        const auto line = shape.part(part);
        const auto z = shape.ofPart(shape.z, part), m = shape.ofPart(shape.m, part);
        Geometry piece;
        const auto begin = [&] {
            piece = {};
            piece.type = GeometryType::Line;
            piece.beginPart();
        };
        const auto put = [&](Point at, double height, double measure) {
            if (!piece.points.empty() && piece.points.back() == at) return;
            piece.points.push_back(at);
            if (!z.empty()) piece.z.push_back(height);
            if (!m.empty()) piece.m.push_back(measure);
        };
        const auto end = [&] {
            if (piece.points.size() > 1) out.push_back(piece);
        };
        begin();
        for (std::size_t i = 0; i < line.size(); ++i) {
            put(line[i], z.empty() ? 0 : z[i], m.empty() ? 0 : m[i]);
            if (i + 1 == line.size()) break;
            std::vector<double> at;
            for (std::size_t k = 0; k + 1 < knife.size(); ++k)
                if (const auto s = crossing(line[i], line[i + 1], knife[k], knife[k + 1]))
                    at.push_back(*s);
            std::sort(at.begin(), at.end());
            for (const double s : at) {
                const auto between = [&](std::span<const double> values) {
                    return values.empty() ? 0 : values[i] + s * (values[i + 1] - values[i]);
                };
                const Point here = line[i] + (line[i + 1] - line[i]) * s;
                put(here, between(z), between(m));
                if (piece.points.size() < 2) continue;
                end();
                begin();
                put(here, between(z), between(m));
            }
        }
        end();
    }
    return out;
}

// Ends of cuts as vertices of the rings that they lie on; false for an end that lies on none.
bool pinned(std::vector<Ring>& rings, Point& end, double reach) {
    double best = reach;
    Ring* on = nullptr;
    std::size_t side = 0;
    Point foot;
    for (Ring& ring : rings)
        for (std::size_t i = 0; i + 1 < ring.size(); ++i) {
            const Point along = ring[i + 1] - ring[i];
            const double length2 = along.x * along.x + along.y * along.y;
            const Point to = end - ring[i];
            const double s =
                length2 > 0 ? std::clamp((to.x * along.x + to.y * along.y) / length2, 0.0, 1.0) : 0;
            const Point at = s == 0 ? ring[i] : s == 1 ? ring[i + 1] : ring[i] + along * s;
            if (const double d = distance(at, end); d <= best)
                best = d, on = &ring, side = i, foot = at;
        }
    if (!on) return false;
    end = foot;
    if (foot != (*on)[side] && foot != (*on)[side + 1])
        on->insert(on->begin() + static_cast<std::ptrdiff_t>(side) + 1, foot);
    return true;
}

/// Sides with the area to their left, and the cuts in both directions; faces are found by turning
/// as far left as possible at each vertex.
class Faces {
public:
    void add(Point from, Point to) {
        if (from == to) return;
        m_from[from].push_back(m_sides.size());
        m_sides.push_back({from, to});
    }
    std::vector<Ring> trace() {
        std::vector<bool> isUsed(m_sides.size(), false);
        std::vector<Ring> out;
        for (std::size_t first = 0; first < m_sides.size(); ++first) {
            if (isUsed[first]) continue;
            Ring ring{m_sides[first].from};
            for (std::size_t at = first; !isUsed[at];) {
                isUsed[at] = true;
                ring.push_back(m_sides[at].to);
                const auto next = turned(at, isUsed, first);
                if (!next) break;
                at = *next;
            }
            if (ring.size() > 3 && ring.front() == ring.back()) out.push_back(std::move(ring));
        }
        return out;
    }

private:
    struct Side {
        Point from, to;
    };
    // Of the sides that leave where this one ends, the one first met turning clockwise from the way
    // back: the face on the left goes on along it.
    std::optional<std::size_t> turned(std::size_t side, const std::vector<bool>& isUsed,
                                      std::size_t first) const {
        const auto [from, to] = m_sides[side];
        const double back = std::atan2(from.y - to.y, from.x - to.x);
        std::optional<std::size_t> best;
        double least = 10;
        const auto it = m_from.find(to);
        if (it == m_from.end()) return {};
        for (const std::size_t one : it->second) {
            if (isUsed[one] && one != first) continue;
            const Point ahead = m_sides[one].to;
            double turn = back - std::atan2(ahead.y - to.y, ahead.x - to.x);
            while (turn <= 1e-14) turn += 2 * std::numbers::pi;
            if (turn < least) least = turn, best = one;
        }
        return best;
    }
    std::vector<Side> m_sides;
    std::map<Point, std::vector<std::size_t>, ByPlace> m_from;
};

std::vector<Geometry> areaPieces(const GeometryView& shape, const GeometryView& cut) {
    const Geometry area = wound(shape, false);  // inside to the left
    Geometry runs = runsWithin(PreparedShape(cut), PreparedShape(area));
    const Box box = area.box();
    const double reach =
        1e-9 * (box.width() + box.height()) + 1e-12 * (std::abs(box.xMax) + std::abs(box.yMax));
    std::vector<Ring> rings;
    for (std::size_t i = 0; i < area.partCount(); ++i) {
        const auto part = GeometryView(area).part(i);
        rings.emplace_back(part.begin(), part.end());
    }
    std::vector<Ring> knives;
    for (std::size_t i = 0; i < runs.partCount(); ++i) {
        const auto part = GeometryView(runs).part(i);
        Ring run(part.begin(), part.end());
        // An end inside leads nowhere.
        if (run.size() > 1 && pinned(rings, run.front(), reach) && pinned(rings, run.back(), reach))
            knives.push_back(std::move(run));
    }
    Faces faces;
    for (const Ring& ring : rings)
        for (std::size_t i = 0; i + 1 < ring.size(); ++i) faces.add(ring[i], ring[i + 1]);
    for (const Ring& knife : knives)
        for (std::size_t i = 0; i + 1 < knife.size(); ++i) {
            faces.add(knife[i], knife[i + 1]);
            faces.add(knife[i + 1], knife[i]);
        }
    std::vector<Geometry> out;
    std::vector<Ring> holes;
    for (Ring& ring : faces.trace()) {
        const double size = signedArea(ring);
        if (std::abs(size) <= reach * reach) continue;
        if (size > 0)
            out.push_back(Geometry::polygon({ring}));
        else
            holes.push_back(std::move(ring));
    }
    for (const Ring& hole : holes) {
        // The smallest around a point well inside the hole.
        const Geometry inner = Geometry::polygon({hole});
        const Point at = anchorOf(inner);
        Geometry* around = nullptr;
        for (Geometry& one : out)
            if (isInside(GeometryView(one), at) &&
                (!around || planarArea(one) < planarArea(*around)))
                around = &one;
        if (around) around->addPart(inner, 0, false);
    }
    return out;
}
}  // namespace

Result<std::vector<Geometry>> splitAlong(const GeometryView& shape, const GeometryView& cut) {
    const auto refused = [](const char* why, const char* mend) {
        return Error{ErrorCode::InvalidArgument, "split", why, mend};
    };
    if (shape.type != GeometryType::Line && shape.type != GeometryType::Polygon)
        return refused("points cannot be divided", "choose a line or an area");
    if (cut.type != GeometryType::Line || cut.partCount() != 1)
        return refused("the cut is no line", "draw one line across");
    if (crossesItself(cut)) return refused("the cut crosses itself", "draw it anew");
    auto out = shape.type == GeometryType::Line ? linePieces(shape, cut) : areaPieces(shape, cut);
    const std::size_t before =
        shape.type == GeometryType::Line ? shape.partCount() : shape.polygons.size();
    if (out.size() <= before)
        return refused("the cut divides nothing", "draw it from outside to outside, across");
    return out;
}

}  // namespace ledge
