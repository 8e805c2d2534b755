#include "core/feature/reproject.h"

namespace ledge {

Result<FeatureTable> reprojected(const FeatureTable& table, const crs::CrsPtr& to) {
    const auto way = crs::Transformation::between(table.info.crs, to);
    if (!way) return way.error();
    FeatureTable out = table;
    for (Feature& f : out.features) {
        const bool wasFinite = f.geometry.isFinite();
        way->forward(f.geometry.points);
        if (wasFinite && !f.geometry.isFinite())
            return Error{ErrorCode::InvalidArgument, table.info.name,
                         "feature " + std::to_string(f.id) + " lies outside the domain of " +
                             to->name,
                         "check the CRS declared for the layer, or choose another target"};
    }
    if (table.info.crs) out.info.crs = to;
    out.refreshInfo();
    return out;
}

}  // namespace ledge
