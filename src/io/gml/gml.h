#pragma once
#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge::io {

/// Opens simple features of GML 3.2 (OGC 10-100r3), and those of GML 2 and 3.1 that look like them:
/// a layer for each name of feature and kind of shape; members with text as fields. Arcs become
/// chords (see kArcTolerance). Codes in their long form mean the authority's order of axes, which
/// is latitude first for geographic CRSs; projected coordinates that lie in the CRS's area only
/// with their axes exchanged are exchanged, and that is noted.
/// Errors: BadFormat with the place; Cancelled.
Result<FeatureSourcePtr> openGml(const std::filesystem::path& path, const Progress& progress = {});

}  // namespace ledge::io
