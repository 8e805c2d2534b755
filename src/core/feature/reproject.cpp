#include "core/feature/reproject.h"

namespace ledge {

Result<FeatureTable> reprojected(const FeatureTable& table, const crs::CrsPtr& to,
                                 const Progress& progress) {
    const auto way = crs::Transformation::between(table.info.crs, to);
    if (!way) return way.error();
    std::optional<std::size_t> lost;
    auto out = table.moved([&](std::span<Point> points) { way->forward(points); }, lost, progress);
    if (!out) return out;
    if (lost)
        return Error{ErrorCode::InvalidArgument, table.info.name,
                     "feature " + std::to_string(table.key(*lost)) +
                         " lies outside the domain of " + to->name,
                     "check the CRS declared for the layer, or choose another target"};
    if (table.info.crs) out->info.crs = to;
    return out;
}

}  // namespace ledge
