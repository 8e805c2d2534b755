#include "core/globe/raster_extent.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/globe/degrees.h"
#include "core/globe/domain.h"
#include "core/globe/grid_lines.h"

namespace ledge::globe {
namespace {
constexpr int kLooks = 96;  // each way

std::vector<Point> spread(const Box& box) {
    std::vector<Point> out;
    for (int i = 0; i <= kLooks; ++i)
        for (int j = 0; j <= kLooks; ++j)
            out.push_back(
                {box.xMin + box.width() * i / kLooks, box.yMin + box.height() * j / kLooks});
    return out;
}

std::string words(const Box& box) {
    return graticuleLabel(box.xMin, false) + " to " + graticuleLabel(box.xMax, false) + ", " +
           graticuleLabel(box.yMin, true) + " to " + graticuleLabel(box.yMax, true);
}

Error outside(const crs::CrsPtr& map, const std::string& where) {
    return {ErrorCode::InvalidArgument, "reprojecting raster",
            "no part of it lies inside " + where + " of " + map->name,
            "check the CRS declared for the file, or choose another target"};
}

// Of two boxes of degrees, where the second may have to be taken by a turn further.
Box common(const Box& box, const Box& area) {
    Box best;
    for (const double turn : {-360.0, 0.0, 360.0}) {
        const Box there{area.xMin + turn, area.yMin, area.xMax + turn, area.yMax};
        const Box both = box.intersected(there);
        if (!both.isEmpty() && both.width() * both.height() > best.width() * best.height())
            best = both;
    }
    return best;
}
}  // namespace

Result<RasterExtent> extentOn(const RasterInfo& info, const crs::CrsPtr& map,
                              const crs::Transformation& toMap) {
    RasterExtent out;
    if (!map || !info.crs) {
        out.box = toMap.forward(info.extent());
        return out;
    }
    const auto base = degreesOf(map);
    const auto toDegrees = crs::Transformation::along(info.crs, base, toMap.datumPath());
    if (!toDegrees) return toDegrees.error();
    // The raster in degrees, longitudes going on from its middle.
    std::vector<Point> looks = spread(info.extent());
    std::vector<Point> degrees = looks;
    toDegrees->forward(degrees);
    Box covered;
    const Point middle = degrees[degrees.size() / 2];
    if (info.crs->isGeographic()) {
        covered = info.extent();
        covered.xMin += info.crs->primeMeridian, covered.xMax += info.crs->primeMeridian;
    } else {
        for (const Point p : degrees)
            covered.add(Point{middle.x + std::remainder(p.x - middle.x, 360.0), p.y});
    }
    const auto squareDegrees = [](const Box& b) { return b.width() * b.height(); };
    if (map->area && squareDegrees(covered) > squareDegrees(map->area->box)) {
        const Box kept = common(covered, map->area->box);
        if (kept.isEmpty()) return outside(map, "the area of use");
        if (squareDegrees(kept) < squareDegrees(covered) * 0.999)
            out.remark = "kept to the area of use of " + map->name + " (" + words(kept) + ")";
        degrees = spread(kept);
    }
    const Domain domain = domainOf(map);
    std::vector<Point> inside;
    for (const Point p : degrees)
        if (p.isFinite() && domain.contains(p)) inside.push_back(p);
    if (inside.size() < degrees.size() && out.remark.empty() && !inside.empty() &&
        inside.size() < degrees.size() * 9 / 10)
        out.remark = "kept to what the map of " + map->name + " can show";
    if (out.remark.empty() && inside.size() == degrees.size()) {  // all of it
        out.box = toMap.forward(info.extent());
        if (!out.box.isEmpty()) return out;
    }
    // The edges of the map, where the raster lies there.
    for (Point p : domain.boundary(0.5))
        for (const double turn : {-360.0, 0.0, 360.0})
            if (const Point q{p.x + turn, p.y}; covered.contains(q) && out.remark.empty())
                inside.push_back(p);
    const auto way = crs::Transformation::along(base, map, {});
    if (!way) return way.error();
    way->forward(inside);
    for (const Point p : inside) out.box.add(p);
    if (out.box.isEmpty()) return outside(map, "the domain");
    return out;
}

Box wholeMap(const crs::CrsPtr& map) {
    const Domain domain = domainOf(map);
    const bool isWorld = domain.kind == Domain::Kind::Strip ? domain.isWhole() && domain.north > 80
                                                            : domain.radius >= 89;
    Box out;
    if (domain.kind == Domain::Kind::Plane || !isWorld || domain.south > -80) return out;
    const auto base = degreesOf(map);
    const auto way = crs::Transformation::along(base, map, {});
    if (!way) return out;
    auto edge = domain.boundary(0.5);
    way->forward(edge);
    for (const Point p : edge) out.add(p);
    return out;
}

}  // namespace ledge::globe
