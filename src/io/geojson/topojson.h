#pragma once
#include <simdjson.h>

#include <filesystem>

#include "core/base/progress.h"
#include "core/feature/feature.h"

namespace ledge::io {

/// The layers of a topology (TopoJSON 1.0): one for each of its objects, their arcs joined, steps
/// and whole numbers undone. WGS 84 longitude and latitude. What cannot be used is counted in the
/// notes. Errors: BadFormat; Cancelled.
Result<FeatureSourcePtr> topologyOf(const simdjson::dom::element& root,
                                    const std::filesystem::path& path, const Progress& progress);

}  // namespace ledge::io
