#include "core/globe/mapping.h"

#include <atomic>
#include <mutex>

#include "core/base/parallel.h"
#include "core/globe/degrees.h"
#include "core/globe/refine.h"

namespace ledge::globe {
namespace {
using crs::kRadiansPerDegree;

constexpr double kMetresPerDegree = 111319.49;
constexpr double kEarth = 6378137;

double tangent(double lat) {
    constexpr double kMost = 1e4;
    return std::min(std::abs(std::tan(lat * kRadiansPerDegree)), kMost);
}

// No less than `tangent`, without working one out: the slope of its arc near the pole.
double tangentAtMost(double lat) {
    return 1 / std::max((90 - std::abs(lat)) * kRadiansPerDegree, 1e-4);
}

// How much faster directions change near the antipode of a cap's centre: tan(arc / 2).
double aboutAntipode(const Domain& domain, Point p) {
    const double lat = p.y * kRadiansPerDegree, lat0 = domain.centre.y * kRadiansPerDegree;
    const double cosine =
        std::sin(lat0) * std::sin(lat) +
        std::cos(lat0) * std::cos(lat) * std::cos((p.x - domain.centre.x) * kRadiansPerDegree);
    return std::sqrt((1 - cosine) / std::max(1 + cosine, 1e-9));
}

// What the sides of one geometry can be at worst.
struct Worst {
    double steepness = 1, spread = 1;

    Worst(const GeometryView& g, const Domain& domain) {
        constexpr std::size_t kLooks = 24;
        const Box box = g.box();
        steepness = 1 + tangentAtMost(std::max(std::abs(box.yMin), std::abs(box.yMax)));
        if (domain.kind != Domain::Kind::Cap) return;
        // Near the antipode, where it changes fast, it is far above anything that is skipped.
        constexpr double kBetweenLooks = 2;
        // One look is enough at what is small and far from there.
        spread = 1 + kBetweenLooks * aboutAntipode(domain, box.centre());
        if (box.width() + box.height() < 1 && spread < 100) return;
        for (std::size_t i = 0; i < g.points.size(); i += 1 + g.points.size() / kLooks)
            spread = std::max(spread, 1 + kBetweenLooks * aboutAntipode(domain, g.points[i]));
    }
};

// How finely the edge of a cap must be drawn, degrees: the arcs of its image, whose radius is no
// more than some earths', keep to the tolerance.
double arcStep(double tolerance) {
    const double step = std::sqrt(8 * tolerance / (4 * kEarth)) / kRadiansPerDegree;
    return std::clamp(step, 0.02, 2.0);
}

// A geometry whose points get others between them.
class Growing {
public:
    Growing(const GeometryView& from, Geometry& to, std::span<const std::uint8_t> seams,
            std::vector<std::uint8_t>* isSeam)
        : m_from(from), m_to(to), m_seams(seams), m_isSeam(isSeam) {}

    void vertex(std::size_t i, Point p) {
        m_to.points.push_back(p);
        if (!m_from.z.empty()) m_to.z.push_back(m_from.z[i]);
        if (!m_from.m.empty()) m_to.m.push_back(m_from.m[i]);
        if (m_isSeam && !m_seams.empty()) m_isSeam->push_back(m_seams[i]);
    }
    // Between vertices i and i + 1.
    void extra(std::size_t i, double share, Point p) {
        m_to.points.push_back(p);
        const auto at = [&](std::span<const double> v) { return v[i] + (v[i + 1] - v[i]) * share; };
        if (!m_from.z.empty()) m_to.z.push_back(at(m_from.z));
        if (!m_from.m.empty()) m_to.m.push_back(at(m_from.m));
        if (m_isSeam && !m_seams.empty()) m_isSeam->push_back(m_seams[i]);
    }

private:
    const GeometryView& m_from;
    Geometry& m_to;
    std::span<const std::uint8_t> m_seams;
    std::vector<std::uint8_t>* m_isSeam;
};

// Goes through the sides of all parts; `side(i)` is called between the vertices i and i + 1.
template <typename Vertex, typename Side>
void forEachSide(const GeometryView& g, Geometry& out, const Vertex& vertex, const Side& side) {
    out.type = g.type;
    out.isMulti = g.isMulti;
    out.polygons.assign(g.polygons.begin(), g.polygons.end());
    for (std::size_t k = 0; k < g.partCount(); ++k) {
        out.parts.push_back(static_cast<std::uint32_t>(out.points.size()));
        const std::size_t begin = g.parts[k], end = begin + g.part(k).size();
        for (std::size_t i = begin; i < end; ++i) {
            vertex(i);
            if (i + 1 < end) side(i);
        }
    }
}

// The same geometry with other points; those it had are left in their place, for their memory.
void takeWith(std::vector<Point>& images, const GeometryView& g, Geometry& out) {
    out.type = g.type;
    out.isMulti = g.isMulti;
    out.points.swap(images);
    out.parts.assign(g.parts.begin(), g.parts.end());
    out.polygons.assign(g.polygons.begin(), g.polygons.end());
    out.z.assign(g.z.begin(), g.z.end());
    out.m.assign(g.m.begin(), g.m.end());
}

double fromLine(Point p, Point a, Point b) {
    const Point along = b - a;
    const double square = along.x * along.x + along.y * along.y;
    if (!(square > 0)) return distance(p, a);
    const double t = std::clamp(((p.x - a.x) * along.x + (p.y - a.y) * along.y) / square, 0.0, 1.0);
    return distance(p, a + along * t);
}
}  // namespace

Result<Mapper> Mapper::between(const crs::CrsPtr& from, const crs::CrsPtr& to, double tolerance) {
    const Domain domain = domainOf(to);
    const double metres = tolerance * (to ? to->metresPerUnit() : 1);
    Mapper out(Cutter(domain, arcStep(metres)));
    out.m_tolerance = tolerance;
    out.m_groundTolerance = metres;
    out.m_metresPerUnit = to ? to->metresPerUnit() : 1;
    out.m_isSame = crs::isSame(from, to);
    out.m_isPlane = !from || !to;
    if (out.m_isPlane) return out;
    auto whole = crs::Transformation::between(from, to);
    if (!whole) return whole.error();
    const auto base = degreesOf(to);
    auto first = crs::Transformation::along(from, base, whole->datumPath());
    if (!first) return first.error();
    auto second = crs::Transformation::along(base, to, {});
    if (!second) return second.error();
    out.m_toLonLat = *std::move(first);
    out.m_toMap = *std::move(second);
    out.m_isFromDegrees = from->isGeographic();
    // Of the same datum, from Greenwich: nothing to be done to be there.
    out.m_isInDegrees = from->isGeographic() && from->primeMeridian == 0 && !from->isWestward &&
                        !from->isSouthward && out.m_toLonLat.datumPath().steps.empty();
    out.m_isToDegrees = to->isGeographic();
    return out;
}

double Mapper::refine(const GeometryView& view, std::span<const std::uint8_t> seams, Geometry& out,
                      std::vector<std::uint8_t>& isSeam, std::vector<Point>& images) const {
    // All points at once first: that is what kernels are fast at.
    images.assign(view.points.begin(), view.points.end());
    m_toMap.forward(images);
    // A ring around a pole ends a turn away from where it began, which is the same place.
    if (view.type == GeometryType::Polygon)
        for (std::size_t k = 0; k < view.partCount(); ++k)
            images[view.parts[k] + view.part(k).size() - 1] = images[view.parts[k]];
    const Domain& domain = m_cutter.domain();
    const auto length = [](Point a, Point b) {
        return std::sqrt((b.x - a.x) * (b.x - a.x) + (b.y - a.y) * (b.y - a.y));
    };
    // Of the curvature of parallels about a pole, and of the change of scale along meridians.
    const auto bound = [&](Point a, Point b, Point A, Point B) {
        double turn = (std::abs(b.x - a.x) +
                       (1 + std::max(tangent(a.y), tangent(b.y))) * std::abs(b.y - a.y)) *
                      kRadiansPerDegree;
        if (domain.kind == Domain::Kind::Cap)
            turn *= 1 + std::max(aboutAntipode(domain, a), aboutAntipode(domain, b));
        return length(A, B) * std::min(turn, 4.0) / 4;
    };
    // The same for all sides at once, from the worst there may be among them: of most shapes all
    // sides are so short that nothing is left to do.
    const Worst worst(view, domain);
    const auto isShort = [&](std::size_t i) {
        const Point a = view.points[i], b = view.points[i + 1];
        const double turn = (std::abs(b.x - a.x) + worst.steepness * std::abs(b.y - a.y)) *
                            worst.spread * kRadiansPerDegree;
        return length(images[i], images[i + 1]) * turn / 4;
    };
    double strayed = 0;
    bool isShortAll = domain.kinks.empty() || m_isToDegrees;
    for (std::size_t k = 0; k < view.partCount() && isShortAll && !m_isToDegrees; ++k) {
        const std::size_t begin = view.parts[k], end = begin + view.part(k).size();
        for (std::size_t i = begin; i + 1 < end && isShortAll; ++i) {
            const double most = isShort(i);
            strayed = std::max(strayed, most);
            isShortAll = most <= m_tolerance;
        }
    }
    if (isShortAll) {
        out.type = view.type;
        out.isMulti = view.isMulti;
        takeWith(images, view, out);
        isSeam.assign(seams.begin(), seams.end());
        return m_isToDegrees ? 0 : strayed;
    }
    strayed = 0;
    Growing grown(view, out, seams, &isSeam);
    const auto image = [&](Point p) { return m_toMap.forward(p); };
    std::size_t now = 0;
    double first = 0, last = 1;  // of the side, what is refined
    const auto put = [&](double share, Point, Point at) {
        grown.extra(now, first + (last - first) * share, at);
    };
    Refiner refiner(m_tolerance, bound, image, fromLine, put);
    forEachSide(
        view, out, [&](std::size_t i) { grown.vertex(i, images[i]); },
        [&](std::size_t i) {
            if (m_isToDegrees) return;
            now = i;
            if (domain.kinks.empty())
                if (const double most = isShort(i); most <= m_tolerance) {
                    strayed = std::max(strayed, most);
                    return;
                }
            const Point a = view.points[i], b = view.points[i + 1];
            first = 0, last = 1;
            Point from = a, image0 = images[i];
            for (std::size_t k = 0; k < domain.kinks.size(); ++k) {
                const double lat = domain.kinks[a.y < b.y ? k : domain.kinks.size() - 1 - k];
                if ((a.y < lat) == (b.y < lat) || a.y == lat || b.y == lat) continue;
                last = (lat - a.y) / (b.y - a.y);
                const Point corner{a.x + (b.x - a.x) * last, lat};
                const Point image1 = image(corner);
                strayed = std::max(strayed, refiner.side(from, corner, image0, image1));
                grown.extra(i, last, image1);
                from = corner, image0 = image1, first = last;
            }
            last = 1;
            strayed = std::max(strayed, refiner.side(from, b, image0, images[i + 1]));
        });
    return strayed;
}

double Mapper::toDegrees(const GeometryView& g, Geometry& out, std::vector<Point>& images) const {
    images.assign(g.points.begin(), g.points.end());
    m_toLonLat.forward(images);
    // Shifts of datums count longitudes anew; which way sides run is told by how the data count.
    if (m_isFromDegrees)
        for (std::size_t i = 0; i < images.size(); ++i) {
            images[i].x += 360 * std::round((g.points[i].x - images[i].x) / 360);
            // A pole stays one, wherever along it the data are.
            if (std::abs(g.points[i].y) >= 90) images[i] = g.points[i];
        }
    // Of most shapes all sides are so short that nothing is put between, whatever their latitude.
    double highest = 0, longest = 0;  // degrees, and their square
    for (std::size_t i = 0; i < images.size(); ++i) {
        highest = std::max(highest, std::abs(images[i].y));
        if (i == 0) continue;
        const Point side = images[i] - images[i - 1];
        longest = std::max(longest, side.x * side.x + side.y * side.y);
    }
    const double most =
        longest * kMetresPerDegree * kMetresPerDegree * (1 + tangentAtMost(highest)) / (4 * kEarth);
    if (m_isFromDegrees || most <= m_groundTolerance / 2) {
        takeWith(images, g, out);
        return m_isFromDegrees ? 0 : 2 * most * m_tolerance / m_groundTolerance;
    }
    Growing grown(g, out, {}, nullptr);
    const auto bound = [](Point, Point, Point A, Point B) {
        const double east = std::remainder(B.x - A.x, 360.0) *
                            std::cos(std::max(std::abs(A.y), std::abs(B.y)) * kRadiansPerDegree);
        const double metres = std::hypot(east, B.y - A.y) * kMetresPerDegree;
        return metres * metres * (1 + std::max(tangent(A.y), tangent(B.y))) / (4 * kEarth);
    };
    const auto image = [&](Point p) { return m_toLonLat.forward(p); };
    const auto stray = [](Point p, Point A, Point B) {
        const double shrink = std::cos(p.y * kRadiansPerDegree);
        const auto plane = [&](Point q) {
            return Point{std::remainder(q.x - A.x, 360.0) * shrink, q.y - A.y} * kMetresPerDegree;
        };
        return fromLine(plane(p), plane(A), plane(B));
    };
    std::size_t now = 0;
    const auto put = [&](double share, Point, Point at) { grown.extra(now, share, at); };
    Refiner refiner(m_groundTolerance / 2, bound, image, stray, put);
    double strayed = 0;
    forEachSide(
        g, out, [&](std::size_t i) { grown.vertex(i, images[i]); },
        [&](std::size_t i) {
            if (m_isFromDegrees) return;  // straight there
            now = i;
            strayed = std::max(
                strayed, refiner.side(g.points[i], g.points[i + 1], images[i], images[i + 1]));
        });
    return 2 * strayed * m_tolerance / m_groundTolerance;
}

Mapper::Outcome Mapper::map(const GeometryView& g, Geometry& out, std::vector<std::uint8_t>& isSeam,
                            Scratch& scratch) const {
    Outcome outcome;
    isSeam.clear();
    if (m_isPlane) {
        out = g.toGeometry();
        return outcome;
    }
    GeometryView degrees = g;
    if (!m_isInDegrees) {
        scratch.lonLat.clear();
        outcome.strayed = toDegrees(g, scratch.lonLat, scratch.images);
        if (!scratch.lonLat.isFinite()) return outcome;  // its own projection cannot place it
        degrees = scratch.lonLat;
    }
    std::span<const std::uint8_t> seams;
    if (const auto turn = m_cutter.turnInside(degrees)) {
        if (m_isFromDegrees) markSeams(degrees, scratch.cut.isSeam), seams = scratch.cut.isSeam;
        // Projections know turns; degrees are counted in the map's own.
        if (m_isToDegrees && *turn != 0) {
            scratch.lonLat = degrees.toGeometry();
            for (Point& p : scratch.lonLat.points) p.x += *turn;
            degrees = scratch.lonLat;
        }
    } else {
        m_cutter.cut(degrees, scratch.cut);
        outcome.isCut = true;
        outcome.isClamped = scratch.cut.isClamped;
        degrees = scratch.cut.geometry;
        seams = scratch.cut.isSeam;
    }
    if (degrees.isEmpty()) return outcome;
    outcome.strayed =
        std::max(outcome.strayed, refine(degrees, seams, out, isSeam, scratch.images));
    if (m_isToDegrees && outcome.isCut) toEdges(out);
    if (!out.isFinite()) out.clear();
    return outcome;
}

// Away from whatever the exact way looks at shapes for: tears, edges, poles, kinks.
bool Mapper::mapWellInside(std::span<const Point> places, std::vector<Point>& lonLat,
                           std::vector<Point>& images) const {
    constexpr double kAway = 1e-3;  // degrees
    lonLat.assign(places.begin(), places.end());
    if (!m_isInDegrees) m_toLonLat.forward(lonLat);
    Geometry path;
    path.type = GeometryType::Line;
    path.beginPart();
    Box box;
    for (std::size_t i = 0; i < lonLat.size(); ++i) {
        if (m_isFromDegrees) lonLat[i].x += 360 * std::round((places[i].x - lonLat[i].x) / 360);
        if (!lonLat[i].isFinite() || std::abs(lonLat[i].x) > 180 - kAway ||
            std::abs(lonLat[i].y) > 90 - kAway)
            return false;
        path.points.push_back(lonLat[i]);
        box.add(lonLat[i]);
    }
    const auto turn = m_cutter.turnInside(path);
    if (!turn || (m_isToDegrees && *turn != 0)) return false;
    for (const double lat : m_cutter.domain().kinks)
        if (lat >= box.yMin - kAway && lat <= box.yMax + kAway) return false;
    images = lonLat;
    m_toMap.forward(images);
    return std::all_of(images.begin(), images.end(), [](Point p) { return p.isFinite(); });
}

// The bounds of toDegrees() and refine() for a side of length 1 that is as bad as can be here.
PatchWay::Sides Mapper::sidesIn(std::span<const Point> lonLat, double degrees, double scale) const {
    double highest = 0, spread = 1;
    for (const Point p : lonLat) {
        highest = std::max(highest, std::abs(p.y));
        if (domain().kind == Domain::Kind::Cap)
            spread = std::max(spread, 1 + 2 * aboutAntipode(domain(), p));
    }
    const double tangent = tangentAtMost(highest);
    PatchWay::Sides out{std::numeric_limits<double>::infinity(), 0};
    const auto bound = [&out](double strays, double most, double perStray) {
        if (!(strays > 0)) return;
        out.longestSquare = std::min(out.longestSquare, most / strays);
        out.straysPerSquare = std::max(out.straysPerSquare, strays * perStray);
    };
    if (!m_isFromDegrees) {
        const double metres = degrees * kMetresPerDegree;
        bound(metres * metres * (1 + tangent) / (4 * kEarth), m_groundTolerance / 2,
              2 * m_tolerance / m_groundTolerance);
    }
    if (!m_isToDegrees)
        bound(scale * (2 + tangent) * spread * degrees * kRadiansPerDegree / 4, m_tolerance, 1);
    return out;
}

Whole wholeOf(const FeatureTable& table) {
    Whole out{{}, table.size()};
    for (std::size_t i = 0; i < table.size(); ++i) out.extent.add(table.box(i));
    return out;
}

std::optional<Patches> Mapper::patches(const Whole& whole) const {
    constexpr std::size_t kFewest = 4096, kShapesEach = 128;
    // Grids of shifts have corners that no polynomial follows.
    const auto& steps = m_toLonLat.datumPath().steps;
    const bool hasGrids = std::any_of(steps.begin(), steps.end(), [](const auto& step) {
        return step.operation.kind == crs::DatumOperation::Kind::Grid;
    });
    if (whole.count < kFewest || whole.extent.isEmpty() || m_isPlane || m_isSame || hasGrids)
        return {};
    // What files say of their extent may be anything.
    const Box& e = whole.extent;
    constexpr double kFarthest = 1e10;
    for (const double v : {e.xMin, e.yMin, e.xMax, e.yMax})
        if (!(std::abs(v) < kFarthest)) return {};
    PatchWay way;
    way.exact = [this](std::span<const Point> places, std::vector<Point>& lonLat,
                       std::vector<Point>& images) {
        return mapWellInside(places, lonLat, images);
    };
    way.sides = [this](std::span<const Point> lonLat, double degrees, double scale) {
        return sidesIn(lonLat, degrees, scale);
    };
    way.exactness = 5e-7 / m_metresPerUnit;
    return Patches(whole.extent, whole.count / kShapesEach, std::move(way));
}

// In degrees both sides of a tear have numbers of their own, and need no hair between them.
void Mapper::toEdges(Geometry& degrees) const {
    const double edge = m_cutter.domain().halfWidth;
    for (Point& p : degrees.points)
        if (std::abs(std::abs(p.x) - edge) <= 2 * kHair) p.x = std::copysign(edge, p.x);
}

bool Mapper::needsCutting(const FeatureTable& table) const {
    if (!m_isFromDegrees) return false;
    std::atomic<bool> found{false};
    parallelRanges(table.size(), 4096, [&](std::size_t begin, std::size_t end) {
        for (std::size_t i = begin; i < end && !found; ++i)
            if (const GeometryView g = table.geometry(i); !g.isEmpty())
                if (const auto turn = m_cutter.turnInside(g); !turn || *turn != 0) found = true;
    });
    return found;
}

Result<Mapping> Mapping::between(const crs::CrsPtr& from, const crs::CrsPtr& to, double tolerance,
                                 const Whole& whole) {
    auto mapper = Mapper::between(from, to, tolerance);
    if (!mapper) return mapper.error();
    Mapping out;
    out.m_mapper = std::make_shared<const Mapper>(*std::move(mapper));
    if (auto patches = out.m_mapper->patches(whole))
        out.m_patches = std::make_shared<const Patches>(*std::move(patches));
    out.m_to = to;
    return out;
}

Result<Mapped> mapped(const FeatureTable& table, const crs::CrsPtr& to, double tolerance,
                      bool always, const Progress& progress) {
    const auto mapping = Mapping::between(table.info.crs, to, tolerance, wholeOf(table));
    if (!mapping) return mapping.error();
    return mapping->map(table, always, progress);
}

Result<Mapped> Mapping::map(const FeatureTable& table, bool always,
                            const Progress& progress) const {
    const Mapper* mapper = m_mapper.get();
    const Patches* patches = m_patches.get();
    Mapped out;
    if (mapper->isPlane() || (mapper->isSame() && !(always && mapper->needsCutting(table)))) {
        out.table = table;
        return out;
    }
    std::atomic<std::size_t> outside{0}, cut{0}, clamped{0};
    std::atomic<double> strayed{0};
    std::mutex mutex;  // guards the seams of `out`
    const auto note = [&strayed](double own) {
        double most = strayed;
        while (own > most && !strayed.compare_exchange_weak(most, own)) {
        }
    };
    auto made = table.withGeometries(
        [&](std::size_t row, const GeometryView& geometry, Geometry& image) {
            thread_local Mapper::Scratch scratch;
            if (patches)
                if (const auto own = patches->map(geometry, scratch.images)) {
                    takeWith(scratch.images, geometry, image);
                    return note(*own);
                }
            const auto outcome = mapper->map(geometry, image, scratch.isSeam, scratch);
            if (patches && !outcome.isCut) patches->adopt(geometry, image);
            if (image.isEmpty()) ++outside;
            if (outcome.isCut && !image.isEmpty()) ++cut;
            if (outcome.isClamped) ++clamped;
            note(outcome.strayed);
            if (scratch.isSeam.empty()) return;
            const std::lock_guard lock(mutex);
            out.seams[row] = scratch.isSeam;
        },
        progress);
    if (!made) return made.error();
    out.table = *std::move(made);
    out.outside = outside;
    out.cut = cut;
    out.clamped = clamped;
    out.strayed = strayed;
    if (table.info.crs) out.table.info.crs = m_to;
    return out;
}

}  // namespace ledge::globe
