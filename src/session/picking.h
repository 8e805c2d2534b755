#pragma once
#include "session/source_cache.h"

namespace ledge::session {

/// The features of a source that a shape on the map meets, by their keys: an area, a line, or a
/// point with `reach` around it, in the map's CRS. With a point only the one nearest to it, the
/// smallest of several areas around it. Ascending. Errors: those of reading; Cancelled.
Result<std::vector<FeatureKey>> featuresAt(const doc::SourceRef& source, const SourceCache& cache,
                                           const crs::CrsPtr& mapCrs, const Geometry& shape,
                                           double reach, const Progress& progress = {});

/// What features of a source cover on the map; empty when none has a shape.
Box extentOf(const doc::SourceRef& source, const SourceCache& cache, const crs::CrsPtr& mapCrs,
             const std::vector<FeatureKey>& keys);

}  // namespace ledge::session
