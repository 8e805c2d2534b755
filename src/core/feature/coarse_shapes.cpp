#include "core/feature/coarse_shapes.h"

#include "core/feature/feature_table.h"

namespace ledge {
namespace {
// Shares of the extent: the coarser serves while all of it is a screen wide, the finer some steps
// closer.
constexpr double kShares[] = {1.0 / 128'000, 1.0 / 16'000};
constexpr std::size_t kFewPoints = 200'000, kFewOfShape = 24;

std::size_t pointCount(const FeatureTable& table) {
    std::size_t count = 0;
    for (std::size_t i = 0; i < table.size(); ++i) count += table.geometry(i).points.size();
    return count;
}

void thin(const GeometryView& shape, double within, Geometry& out) {
    out.type = shape.type;
    out.isMulti = shape.isMulti;
    for (std::size_t p = 0, outer = 0; p < shape.partCount(); ++p) {
        const bool isOuter = outer < shape.polygons.size() && shape.polygons[outer] == p;
        if (isOuter) ++outer;
        out.beginPart(isOuter);
        const auto part = shape.part(p);
        for (std::size_t i = 0; i < part.size(); ++i)
            if (i == 0 || i + 1 == part.size() || distance(part[i], out.points.back()) > within)
                out.points.push_back(part[i]);
    }
}
}  // namespace

Result<std::vector<CoarseShapes>> coarseShapes(const FeatureTable& table,
                                               const Progress& progress) {
    std::vector<CoarseShapes> out;
    std::size_t points = pointCount(table);
    if (points < kFewPoints || points < kFewOfShape * table.size()) return out;
    const FeatureTable* finer = &table;
    const double side = std::max(table.info.extent.width(), table.info.extent.height());
    for (const double share : kShares) {
        const double within = side * share;
        auto coarser =
            finer->withGeometries([within](std::size_t, const GeometryView& shape,
                                           Geometry& thinned) { thin(shape, within, thinned); },
                                  progress);
        if (!coarser) return coarser.error();
        const std::size_t left = pointCount(*coarser);
        if (left * 2 > points) continue;
        points = left;
        // Of a copy of a copy corners lie as far as both distances together.
        const double before = out.empty() ? 0 : out.back().within;
        out.push_back({within + before, std::make_shared<const FeatureTable>(*std::move(coarser))});
        finer = out.back().table.get();
    }
    return out;
}

}  // namespace ledge
