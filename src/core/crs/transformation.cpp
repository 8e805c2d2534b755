#include "core/crs/transformation.h"

#include <array>
#include <vector>

#include "core/crs/datum_steps.h"
#include "core/crs/shift_grid.h"

namespace ledge::crs {
namespace {
constexpr int kEdgeSteps = 20;

// Points over a box, edges included, close enough that the box of their images is a good bound.
std::vector<Point> spread(const Box& box) {
    std::vector<Point> points;
    for (int i = 0; i <= kEdgeSteps; ++i)
        for (int j = 0; j <= kEdgeSteps; ++j)
            points.push_back({box.xMin + box.width() * i / kEdgeSteps,
                              box.yMin + box.height() * j / kEdgeSteps});
    return points;
}

Box boxOf(std::span<const Point> points) {
    Box box;
    for (const Point p : points) box.add(p);
    return box;
}

void scale(std::span<Point> points, double factor) {
    if (factor == 1) return;
    for (Point& p : points) p = p * factor;
}

void turn(std::span<Point> points, double degrees) {
    if (degrees == 0) return;
    for (Point& p : points) p.x += degrees;
}

// Axes that count west or south: W = FE - x where E = FE + x.
void turnAxes(std::span<Point> points, const Crs& crs) {
    if (crs.isWestward)
        for (Point& p : points) p.x = 2 * crs.parameters.falseEasting - p.x;
    if (crs.isSouthward)
        for (Point& p : points) p.y = 2 * crs.parameters.falseNorthing - p.y;
}

// Ellipsoids as alike as those of WGS 84 and ETRS89: latitudes are copied.
bool isNearlySame(const Ellipsoid& a, const Ellipsoid& b) {
    return a.semiMajor == b.semiMajor && std::abs(a.inverseFlattening - b.inverseFlattening) < 1e-4;
}

}  // namespace

Geocentric applied(const DatumOperation& o, Geocentric p, bool isInverse) {
    using Kind = DatumOperation::Kind;
    if (o.kind == Kind::GeocentricShift) return isInverse ? o.shift.inverse(p) : o.shift.forward(p);
    if (o.kind != Kind::MolodenskyBadekas) return p;
    Helmert aboutPivot = o.shift;
    aboutPivot.dx += o.pivot.x, aboutPivot.dy += o.pivot.y, aboutPivot.dz += o.pivot.z;
    if (isInverse) {
        const Geocentric q = aboutPivot.inverse(p);
        return {q.x + o.pivot.x, q.y + o.pivot.y, q.z + o.pivot.z};
    }
    return aboutPivot.forward({p.x - o.pivot.x, p.y - o.pivot.y, p.z - o.pivot.z});
}
Result<Transformation> Transformation::between(const CrsPtr& from, const CrsPtr& to,
                                               const Box& place,
                                               std::span<const DatumOperation> grids) {
    if (!from || !to || isSame(from, to)) return along(from, to, {});
    return along(from, to, datumPaths(*from, *to, place, grids).front());
}

Result<Transformation> Transformation::along(const CrsPtr& from, const CrsPtr& to, DatumPath path) {
    Transformation out;
    if (!from || !to) {
        out.m_operation = "undeclared CRS: coordinates used as they are";
        return out;
    }
    if (isSame(from, to)) {
        out.m_path.isSameDatum = true;
        return out;
    }
    auto source = sharedProjection(from->method, from->parameters, from->ellipsoid);
    if (!source) return source.error();
    auto target = sharedProjection(to->method, to->parameters, to->ellipsoid);
    if (!target) return target.error();
    out.m_from = std::make_shared<Side>(Side{from, *std::move(source)});
    out.m_to = std::make_shared<Side>(Side{to, *std::move(target)});
    out.m_operation = path.text();
    bool isNull = true;
    for (const auto& step : path.steps)
        isNull &= step.operation.kind == DatumOperation::Kind::Null ||
                  step.operation.kind == DatumOperation::Kind::LongitudeRotation;
    out.m_shiftsDatum =
        !path.steps.empty() && !(isNull && isNearlySame(from->ellipsoid, to->ellipsoid));
    out.m_path = std::move(path);
    return out;
}

void Transformation::toLonLat(std::span<Point> points, const Side& side) {
    const Crs& crs = *side.crs;
    if (crs.isGeographic()) return turn(points, crs.primeMeridian);
    scale(points, crs.unit.size);
    turnAxes(points, crs);
    side.projection->inverse(points);
}

void Transformation::fromLonLat(std::span<Point> points, const Side& side) {
    const Crs& crs = *side.crs;
    if (crs.isGeographic()) {
        turn(points, -crs.primeMeridian);
        for (Point& p : points)
            if (!(std::abs(p.y) <= 90)) p = kNowhere;
        return;
    }
    side.projection->forward(points);
    turnAxes(points, crs);
    scale(points, 1 / crs.unit.size);
}

void Transformation::shiftDatum(std::span<Point> points, const Crs& from, const Crs& to,
                                bool isInverse) const {
    const auto count = m_path.steps.size();
    const auto step = [&](std::size_t i) -> const DatumPath::Step& {
        return m_path.steps[isInverse ? count - 1 - i : i];
    };
    for (Point& p : points) {
        if (!p.isFinite() || !(std::abs(p.y) <= 90)) {
            p = kNowhere;
            continue;
        }
        // Grids speak of longitude and latitude; a path by them alone never leaves those.
        std::size_t i = 0;
        for (; i < count && step(i).operation.kind == DatumOperation::Kind::Grid; ++i) {
            const bool back = step(i).isInverse != isInverse;
            const ShiftGrid& grid = *step(i).operation.grid;
            p = back ? grid.inverse(p) : grid.forward(p);
        }
        if (i == count) continue;
        const Ellipsoid& start = i == 0 ? from.ellipsoid : Ellipsoid{};
        Geocentric at = toGeocentric(start, p.x, p.y, 0);
        for (; i < count && step(i).operation.kind != DatumOperation::Kind::Grid; ++i)
            at = applied(step(i).operation, at, step(i).isInverse != isInverse);
        const Ellipsoid& end = i == count ? to.ellipsoid : Ellipsoid{};
        const GeodeticPosition g = fromGeocentric(end, at);
        p = {g.lon, g.lat};
        for (; i < count; ++i) {
            const bool back = step(i).isInverse != isInverse;
            const ShiftGrid* grid = step(i).operation.grid.get();
            if (grid) p = back ? grid->inverse(p) : grid->forward(p);
        }
    }
}

void Transformation::forward(std::span<Point> points) const {
    if (isIdentity()) return;
    toLonLat(points, *m_from);
    if (m_shiftsDatum) shiftDatum(points, *m_from->crs, *m_to->crs, false);
    fromLonLat(points, *m_to);
}
void Transformation::inverse(std::span<Point> points) const {
    if (isIdentity()) return;
    toLonLat(points, *m_to);
    if (m_shiftsDatum) shiftDatum(points, *m_to->crs, *m_from->crs, true);
    fromLonLat(points, *m_from);
}
Point Transformation::forward(Point p) const {
    forward(std::span(&p, 1));
    return p;
}
Point Transformation::inverse(Point p) const {
    inverse(std::span(&p, 1));
    return p;
}
Box Transformation::forward(const Box& box) const {
    if (isIdentity() || box.isEmpty()) return box;
    auto points = spread(box);
    forward(points);
    return boxOf(points);
}
Box Transformation::inverse(const Box& box) const {
    if (isIdentity() || box.isEmpty()) return box;
    auto points = spread(box);
    inverse(points);
    return boxOf(points);
}

Point toLonLat(const CrsPtr& crs, Point at) {
    if (!crs) return kNowhere;
    static const CrsPtr wgs84 = crsFromCode(4326).value_or(nullptr);
    const auto way = Transformation::between(crs, wgs84);
    return way ? way->forward(at) : kNowhere;
}

namespace {
Crs greenwichBase(const Crs& crs) {
    Crs base = geographicBase(crs);
    base.primeMeridian = 0;
    base.code = 0;
    return base;
}
}  // namespace

Point groundUnits(const CrsPtr& crs, Point at) {
    if (!crs) return {1, 1};
    if (crs->isGeographic()) return metresPerDegree(crs->ellipsoid, at.y);
    const auto base = std::make_shared<Crs>(greenwichBase(*crs));
    const auto way = Transformation::along(crs, base, {});
    if (!way) return kNowhere;
    const double step = 1 / crs->unit.size;
    std::array<Point, 5> p{at, at + Point{step, 0}, at - Point{step, 0}, at + Point{0, step},
                           at - Point{0, step}};
    way->forward(p);
    const Point perDegree = metresPerDegree(crs->ellipsoid, p[0].y);
    const auto ground = [&](Point a, Point b) {
        return std::hypot(std::remainder(a.x - b.x, 360.0) * perDegree.x,
                          (a.y - b.y) * perDegree.y) /
               (2 * step);
    };
    return {ground(p[1], p[2]), ground(p[3], p[4])};
}

double gridConvergence(const CrsPtr& crs, Point at) {
    if (!crs || crs->isGeographic()) return 0;
    const auto base = std::make_shared<Crs>(greenwichBase(*crs));
    const auto way = Transformation::along(crs, base, {});
    if (!way) return kNaN;
    return distortionAt(*crs, way->forward(at)).convergence;
}

Distortion distortionAt(const Crs& crs, Point lonLat) {
    Distortion out;
    if (!lonLat.isFinite() || std::abs(lonLat.y) >= 90) return out;
    const Point perDegree = metresPerDegree(crs.ellipsoid, lonLat.y);
    Point east, north;  // map metres per ground metre
    if (crs.isGeographic()) {
        east = {perDegree.y / perDegree.x, 0};
        north = {0, 1};
    } else {
        const auto projection = sharedProjection(crs.method, crs.parameters, crs.ellipsoid);
        if (!projection) return out;
        // Differences of the fourth order over some hundred metres: 1e-9 and better.
        const double h = 0.002;
        std::array<Point, 8> p;
        for (int i = 0; i < 4; ++i) {
            const double d = h * (i < 2 ? i - 2 : i - 1);
            p[static_cast<std::size_t>(i)] = {lonLat.x + d, lonLat.y};
            p[static_cast<std::size_t>(i + 4)] = {lonLat.x, lonLat.y + d};
        }
        (*projection)->forward(p);
        const auto slope = [&](std::size_t o, double metres) {
            return (p[o] - p[o + 3] + (p[o + 2] - p[o + 1]) * 8) * (1 / (12 * h * metres));
        };
        east = slope(0, perDegree.x);
        north = slope(4, perDegree.y);
    }
    out.alongParallel = std::hypot(east.x, east.y);
    out.alongMeridian = std::hypot(north.x, north.y);
    out.areal = std::abs(east.x * north.y - east.y * north.x);
    const double squares =
        out.alongParallel * out.alongParallel + out.alongMeridian * out.alongMeridian;
    const double sum = std::sqrt(std::max(0.0, squares + 2 * out.areal));
    const double difference = std::sqrt(std::max(0.0, squares - 2 * out.areal));
    out.largest = (sum + difference) / 2;
    out.smallest = (sum - difference) / 2;
    out.convergence = std::atan2(-north.x, north.y) / kRadiansPerDegree;
    return out;
}

}  // namespace ledge::crs
