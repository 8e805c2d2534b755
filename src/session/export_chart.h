#pragma once
#include <filesystem>

#include "carto/profile_chart.h"
#include "core/base/result.h"

namespace ledge::session {

/// Writes a profile's chart, 180 x 60 mm on paper, as a drawing (.svg) or a picture (.png, 300
/// dpi). Atomic. Errors: Unsupported for other suffixes; IoFailure.
Result<void> exportChart(carto::ProfileChart chart, const QString& title,
                         const std::filesystem::path& path);

}  // namespace ledge::session
