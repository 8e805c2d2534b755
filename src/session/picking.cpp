#include "session/picking.h"

#include <algorithm>

#include "core/geometry/measure.h"
#include "core/geometry/relate.h"

namespace ledge::session {

Result<std::vector<FeatureKey>> featuresAt(const doc::SourceRef& source, const SourceCache& cache,
                                           const crs::CrsPtr& mapCrs, const Geometry& shape,
                                           double reach, const Progress& progress) {
    const auto features = cache.features(source, mapCrs);
    if (!features) return features.error();
    const FeatureTable& table = *(*features)->table;
    std::vector<FeatureKey> out;
    if (shape.type == GeometryType::Point && !shape.isEmpty()) {
        const Point at = shape.points.front();
        // Nearest first; of areas that all hold the point, the smallest.
        std::optional<std::pair<double, double>> best;
        for (const std::size_t i : (*features)->index.meeting(shape.box().grown(reach))) {
            const GeometryView g = table.geometry(i);
            const std::pair rank{distanceTo(g, at), planarArea(g)};
            if (rank.first > reach || (best && *best <= rank)) continue;
            best = rank;
            out = {table.key(i)};
        }
        return out;
    }
    const PreparedShape asked(shape);
    for (const std::size_t i : (*features)->index.meeting(asked.box())) {
        if (progress.stopped()) return cancelled(source.name);
        if (meets(PreparedShape(table.geometry(i)), asked)) out.push_back(table.key(i));
    }
    std::sort(out.begin(), out.end());
    out.erase(std::unique(out.begin(), out.end()), out.end());
    return out;
}

Box extentOf(const doc::SourceRef& source, const SourceCache& cache, const crs::CrsPtr& mapCrs,
             const std::vector<FeatureKey>& keys) {
    Box out;
    const auto features = cache.features(source, mapCrs);
    if (!features) return out;
    const FeatureTable& table = *(*features)->table;
    for (std::size_t i = 0; i < table.size(); ++i)
        if (std::binary_search(keys.begin(), keys.end(), table.key(i))) out.add(table.box(i));
    return out;
}

}  // namespace ledge::session
