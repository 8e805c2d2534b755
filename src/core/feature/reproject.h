#pragma once
#include "core/crs/transformation.h"
#include "core/feature/feature.h"

namespace ledge {

/// The same features in another CRS. On all cores. Errors: Cancelled; InvalidArgument naming the
/// first feature with a position outside a domain; those of Transformation::between.
Result<FeatureTable> reprojected(const FeatureTable& table, const crs::CrsPtr& to,
                                 const Progress& progress = {});

}  // namespace ledge
