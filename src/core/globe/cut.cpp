#include "core/globe/cut.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/measure.h"
#include "core/globe/boundary.h"
#include "core/globe/unroll.h"

namespace ledge::globe {
namespace {
// A piece of a ring or line inside the domain.
struct Piece {
    Path path;
    double in = 0, out = 0;
};

template <typename Boundary>
class Cutting {
public:
    explicit Cutting(const Boundary& boundary) : m_boundary(boundary) {}

    void line(const Path& path, std::vector<Path>& out) {
        if (!subdivide(path, false)) return;
        Path piece;
        const auto flush = [&] {
            if (piece.size() > 1) out.push_back(std::move(piece));
            piece.clear();
        };
        for (std::size_t i = 0; i + 1 < m_path.size(); ++i) {
            const Cell& cell = m_cells[i];
            const bool begins = i == 0 || m_boundary.tears(m_cells[i - 1], cell);
            if (begins) {
                if (i > 0 && m_cells[i - 1].isInside) add(piece, m_path[i], m_cells[i - 1], true);
                flush();
            }
            if (cell.isInside) add(piece, m_path[i], cell, begins && i > 0);
        }
        if (!m_cells.empty() && m_cells.back().isInside)
            add(piece, m_path.back(), m_cells.back(), false);
        flush();
    }

    /// A ring with its interior on the left: closed when nothing of it is torn, else in pieces.
    void ring(const Path& path) {
        if (!subdivide(path, true)) return;
        const std::size_t sides = m_cells.size();
        std::size_t first = sides;  // a side that begins after a tear
        for (std::size_t i = 0; i < sides && first == sides; ++i)
            if (m_boundary.tears(i > 0 ? m_cells[i - 1] : beforeFirst(), m_cells[i])) first = i;
        if (first == sides) {
            if (!m_cells.front().isInside) return;
            Path closed;
            for (std::size_t i = 0; i <= sides; ++i)
                add(closed, m_path[i], m_cells[std::min(i, sides - 1)], false);
            m_closed.push_back(std::move(closed));
            return;
        }
        Piece piece;
        for (std::size_t n = 0; n < sides; ++n) {
            const std::size_t i = (first + n) % sides;
            const Cell& cell = m_cells[i];
            if (!cell.isInside) continue;
            if (piece.path.empty()) {
                const Spot spot = m_boundary.spotAt(cell, m_path[i].at);
                piece.in = spot.along;
                piece.path.push_back(m_path[i]);
                piece.path.back().at = spot.at;
            } else {
                add(piece.path, m_path[i], cell, false);
            }
            const bool isLast = i + 1 == sides;
            if (!m_boundary.tears(isLast ? beforeFirst() : cell, m_cells[isLast ? 0 : i + 1]))
                continue;
            const Spot spot = m_boundary.spotAt(cell, m_path[i + 1].at);
            piece.out = spot.along;
            Vertex end = m_path[i + 1];
            end.at = spot.at;
            end.isSeam = true;
            piece.path.push_back(end);
            m_pieces.push_back(std::move(piece));
            piece = {};
        }
    }

    /// Rings from the pieces: each goes on along the boundary to where the next one comes in.
    std::vector<Path> joined() {
        constexpr double kSame = 1e-9;
        std::vector<std::size_t> byEntry(m_pieces.size());
        for (std::size_t i = 0; i < byEntry.size(); ++i) byEntry[i] = i;
        std::sort(byEntry.begin(), byEntry.end(),
                  [&](std::size_t a, std::size_t b) { return m_pieces[a].in < m_pieces[b].in; });
        std::vector<bool> isUsed(m_pieces.size(), false);
        std::vector<Path> rings = std::move(m_closed);
        // The entry next after a place that is free; the first of the ring itself counts as free.
        const auto nextAfter = [&](double along, std::size_t start) {
            std::size_t at = static_cast<std::size_t>(
                std::lower_bound(
                    byEntry.begin(), byEntry.end(), along - kSame,
                    [&](std::size_t i, double value) { return m_pieces[i].in < value; }) -
                byEntry.begin());
            for (std::size_t n = 0; n < byEntry.size(); ++n, ++at) {
                const std::size_t i = byEntry[at % byEntry.size()];
                if (i == start || !isUsed[i]) return i;
            }
            return start;
        };
        for (std::size_t start = 0; start < m_pieces.size(); ++start) {
            if (isUsed[start]) continue;
            Path ring;
            std::size_t now = start;
            do {
                isUsed[now] = true;
                const Piece& piece = m_pieces[now];
                for (Vertex v : piece.path) {
                    v.at.x += turnTo(ring, v.at.x);
                    ring.push_back(v);
                }
                now = nextAfter(piece.out, start);
                const double to = m_pieces[now].in;
                if (std::abs(to - piece.out) >= kSame)
                    m_boundary.walk(piece.out, to, [&](Point p) {
                        p.x += turnTo(ring, p.x);
                        ring.push_back({p, kNaN, kNaN, true});
                    });
            } while (now != start);
            close(ring);
            rings.push_back(std::move(ring));
        }
        m_pieces.clear();
        m_closed.clear();
        return rings;
    }

    /// All of the boundary.
    Path whole() const {
        Path ring{{m_boundary.start(), kNaN, kNaN, true}};
        m_boundary.walk(0, m_boundary.length() * (1 - 1e-12), [&](Point p) {
            p.x += turnTo(ring, p.x);
            ring.push_back({p, kNaN, kNaN, true});
        });
        close(ring);
        return ring;
    }

private:
    // In a cap longitudes go on around a pole: what to add to one so that it follows the last.
    static double turnTo(const Path& ring, double x) {
        return isContinuous() && !ring.empty() ? 360 * std::round((ring.back().at.x - x) / 360) : 0;
    }
    static void close(Path& ring) {
        Vertex last = ring.front();
        last.at.x += turnTo(ring, last.at.x);
        ring.push_back(last);
    }
    static constexpr bool isContinuous() { return std::is_same_v<Boundary, CapBoundary>; }

    // The path with a vertex wherever the boundary is met, and the cell of each side; false when
    // none of them can be told.
    bool subdivide(const Path& path, bool isRing) {
        m_path.clear();
        m_cells.clear();
        if (path.size() < 2) return false;
        bool isTold = false;
        for (std::size_t i = 0; i + 1 < path.size(); ++i) {
            const Vertex &a = path[i], &b = path[i + 1];
            m_shares.clear();
            m_boundary.meetings(a.at, b.at, m_shares);
            double before = 0;
            m_path.push_back(a);
            for (std::size_t k = 0; k <= m_shares.size(); ++k) {
                const double share = k < m_shares.size() ? m_shares[k] : 1;
                if (share <= before) continue;
                const double middle = (before + share) / 2;
                // Sides along a meridian or parallel stay on it, whatever rounding does.
                Point p = a.at + (b.at - a.at) * middle;
                if (a.at.x == b.at.x) p.x = a.at.x;
                if (a.at.y == b.at.y) p.y = a.at.y;
                m_cells.push_back(m_boundary.cellAt(p));
                isTold = isTold || !m_cells.back().isUnsure;
                if (share < 1) m_path.push_back(between(a, b, share));
                before = share;
            }
        }
        m_path.push_back(path.back());
        if (!isTold) return false;
        // A side on the boundary is where the side before it is.
        const std::size_t sides = m_cells.size();
        std::size_t sure = 0;
        while (m_cells[sure].isUnsure) ++sure;
        const std::size_t last = isRing ? sides : sides - sure;
        for (std::size_t n = 1; n < last; ++n) {
            Cell& cell = m_cells[(sure + n) % sides];
            if (!cell.isUnsure) continue;
            const std::size_t i = (sure + n) % sides;
            cell = i > 0 ? m_cells[i - 1] : beforeFirst();
        }
        if (!isRing)
            for (std::size_t i = sure; i-- > 0;) m_cells[i] = m_cells[i + 1];
        return true;
    }
    // The last side of a ring as the first one sees it: a ring around the earth ends in another
    // turn than it began in.
    Cell beforeFirst() const {
        Cell out = m_cells.back();
        if (isContinuous()) return out;
        out.turn -= static_cast<int>(std::lround((m_path.back().at.x - m_path.front().at.x) / 360));
        return out;
    }

    void add(Path& piece, const Vertex& v, const Cell& cell, bool isOnBoundary) const {
        piece.push_back(v);
        if (isOnBoundary)
            piece.back().at = m_boundary.spotAt(cell, v.at).at;
        else
            piece.back().at = m_boundary.inside(cell, v.at);
    }

    const Boundary& m_boundary;
    Path m_path;
    std::vector<Cell> m_cells;
    std::vector<double> m_shares;
    std::vector<Path> m_closed;
    std::vector<Piece> m_pieces;
};

void put(Cut& out, const Path& path, double origin, bool isOuter) {
    Geometry& g = out.geometry;
    g.beginPart(isOuter);
    for (const Vertex& v : path) {
        g.points.push_back({v.at.x + origin, v.at.y});
        g.z.push_back(v.z);
        g.m.push_back(v.m);
        out.isSeam.push_back(v.isSeam);
    }
}

// Rings nested by their winding: those with the interior on the left are outer ones, each followed
// by the others within it.
template <typename Boundary>
void putRings(Cut& out, std::vector<Path> rings, const Boundary& boundary,
              Cutting<Boundary>& cutting, bool isBoundaryInside) {
    constexpr double kNothing = 1e-9;  // square degrees: a side and its way back
    struct Placed {
        Path path;
        std::vector<Point> chart;
        std::vector<Path> holes;
    };
    std::vector<Placed> outers, holes;
    const auto place = [&](Path path) {
        Placed one{std::move(path), {}, {}};
        for (const Vertex& v : one.path) one.chart.push_back(boundary.chart(v.at));
        const double area = signedArea(one.chart);
        if (std::abs(area) < kNothing) return;
        (area > 0 ? outers : holes).push_back(std::move(one));
    };
    for (Path& ring : rings)
        if (ring.size() > 3) place(std::move(ring));
    const auto outerOf = [&](const Placed& hole) -> Placed* {
        for (Placed& outer : outers)
            if (isInside(Geometry::polygon({outer.chart}), hole.chart.front())) return &outer;
        return nullptr;
    };
    // A ring with its interior outside, and nothing around it: the boundary is around it.
    bool isWhole = outers.empty() && holes.empty();
    for (const Placed& hole : holes) isWhole = isWhole || !outerOf(hole);
    if (isWhole && isBoundaryInside) place(cutting.whole());
    for (Placed& hole : holes) {
        if (Placed* outer = outerOf(hole)) {
            outer->holes.push_back(std::move(hole.path));
        } else {  // wrongly wound: better shown than lost
            outers.push_back(std::move(hole));
        }
    }
    for (const Placed& outer : outers) {
        put(out, outer.path, boundary.origin(), true);
        for (const Path& hole : outer.holes) put(out, hole, boundary.origin(), false);
    }
}

template <typename Boundary>
void cutWith(const Boundary& boundary, const GeometryView& g, Cut& out) {
    Cutting<Boundary> cutting(boundary);
    if (g.type == GeometryType::Line) {
        std::vector<Path> pieces;
        for (std::size_t i = 0; i < g.partCount(); ++i)
            cutting.line(unrolled(g, i, boundary.origin(), false, out.isClamped).path, pieces);
        for (const Path& piece : pieces) put(out, piece, boundary.origin(), false);
        return;
    }
    for (std::size_t p = 0; p < g.polygons.size(); ++p) {
        const std::size_t end = p + 1 < g.polygons.size() ? g.polygons[p + 1] : g.partCount();
        std::vector<Unrolled> rings;
        for (std::size_t i = g.polygons[p]; i < end; ++i) {
            rings.push_back(unrolled(g, i, boundary.origin(), true, out.isClamped));
            turnInteriorLeft(rings.back(), i == g.polygons[p]);
            cutting.ring(rings.back().path);
        }
        putRings(out, cutting.joined(), boundary, cutting, holds(rings, boundary.somewhere()));
    }
}
}  // namespace

void markSeams(const GeometryView& g, std::vector<std::uint8_t>& isSeam) {
    isSeam.clear();
    if (g.type != GeometryType::Polygon) return;
    for (std::size_t k = 0; k < g.partCount(); ++k) {
        const auto part = g.part(k);
        for (std::size_t i = 0; i + 1 < part.size(); ++i) {
            if (!isCutSide(part[i], part[i + 1])) continue;
            if (isSeam.empty()) isSeam.resize(g.points.size(), 0);
            isSeam[g.parts[k] + i] = 1;
        }
    }
}

void Cut::clear() {
    geometry.clear();
    isSeam.clear();
    isClamped = false;
}

Cutter::Cutter(const Domain& domain, double step) : m_domain(domain), m_step(step) {}

std::optional<double> Cutter::turnInside(const GeometryView& g) const {
    if (m_domain.kind == Domain::Kind::Plane) return 0;
    if (g.isEmpty()) return {};
    const bool isStrip = m_domain.kind == Domain::Kind::Strip;
    Box box;
    double longest = 0;
    for (std::size_t k = 0; k < g.partCount(); ++k) {
        const auto part = g.part(k);
        for (std::size_t i = 0; i < part.size(); ++i) {
            box.add(part[i]);
            if (i == 0 || g.type == GeometryType::Point) continue;
            const double dx = std::abs(part[i].x - part[i - 1].x);
            longest = std::max({longest, dx, std::abs(part[i].y - part[i - 1].y)});
        }
    }
    if (box.yMin < -90 || box.yMax > 90 || longest > 180) return {};
    if (isStrip) {
        const double turn = std::floor((box.xMin - m_domain.meridian + 180) / 360) * 360;
        const double west = box.xMin - m_domain.meridian - turn,
                     east = box.xMax - m_domain.meridian - turn;
        if (!(west > -m_domain.halfWidth && east < m_domain.halfWidth) ||
            box.yMin < m_domain.south || box.yMax > m_domain.north)
            return {};
        for (const Slit& s : m_domain.slits)
            if (west <= s.longitude && east >= s.longitude &&
                (s.isNorth ? box.yMax > 0 : box.yMin < 0))
                return {};
        return -turn;
    }
    // What lies around the antipode may lie around the boundary.
    const Point antipode{m_domain.centre.x + 180, -m_domain.centre.y};
    const double margin = 180 - m_domain.radius + longest;
    const double first = antipode.x + 360 * std::ceil((box.xMin - antipode.x) / 360);
    const bool isAbout = (first <= box.xMax || longest > 90) && box.yMin <= antipode.y + margin &&
                         box.yMax >= antipode.y - margin;
    if (isAbout) return {};
    // A shape lies within so many degrees of the middle of its box.
    const double around = std::hypot(box.width(), box.height()) / 2;
    if (arcBetween(m_domain.centre, box.centre()) + around + longest <= m_domain.radius) return 0;
    for (const Point p : g.points)
        if (arcBetween(m_domain.centre, p) + longest > m_domain.radius) return {};
    return 0;
}

void Cutter::cut(const GeometryView& g, Cut& out) const {
    out.clear();
    out.geometry.type = g.type;
    if (m_domain.kind == Domain::Kind::Plane) {
        out.geometry = g.toGeometry();
        return;
    }
    if (g.type == GeometryType::Point) {
        for (std::size_t i = 0; i < g.points.size(); ++i) {
            if (!m_domain.contains(g.points[i])) continue;
            out.geometry.addPart(g, i);
            if (m_domain.kind != Domain::Kind::Strip) continue;
            double& x = out.geometry.points.back().x;
            const double turned = m_domain.meridian + std::remainder(x - m_domain.meridian, 360.0);
            if (std::abs(x - m_domain.meridian) > 180) x = turned;
        }
        out.geometry.isMulti = g.isMulti;
        return;
    }
    if (m_domain.kind == Domain::Kind::Strip)
        cutWith(StripBoundary(m_domain), g, out);
    else
        cutWith(CapBoundary(m_domain, m_step), g, out);
    Geometry& made = out.geometry;
    if (g.z.empty()) made.z.clear();
    if (g.m.empty()) made.m.clear();
    if (std::none_of(out.isSeam.begin(), out.isSeam.end(), [](auto is) { return is != 0; }))
        out.isSeam.clear();
    made.isMulti = g.isMulti ||
                   (g.type == GeometryType::Line ? made.partCount() > 1 : made.polygons.size() > 1);
    if (made.isEmpty()) made.clear();
}

}  // namespace ledge::globe
