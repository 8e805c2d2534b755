#pragma once
#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge::io {

/// Opens the shapefiles in a ZIP archive, a layer each. Errors: BadFormat without any; those of
/// openShapefile; Cancelled.
Result<FeatureSourcePtr> openZippedShapefile(const std::filesystem::path& path,
                                             const Progress& progress = {},
                                             const Reading& reading = {});

}  // namespace ledge::io
