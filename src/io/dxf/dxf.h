#pragma once
#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// Opens points, lines, polylines, arcs, circles, ellipses and texts of a drawing interchange file
/// (text form): a layer for each kind of shape, closed polylines as areas; fields layer, text and
/// those of extended data written by writeDxf. Arcs and bulges become chords (see kArcTolerance).
/// The CRS is that of a .prj beside it. What is left out is counted in the notes.
/// Errors: BadFormat; Cancelled.
Result<FeatureSourcePtr> openDxf(const std::filesystem::path& path, const Progress& progress = {},
                                 const Reading& reading = {});

/// Writes points, texts (points with a field called text), polylines and closed polylines for each
/// ring, which every reader of drawings takes. Lines without heights of their own stand at the
/// height that a field called height, elevation or level gives. A field called layer says on which
/// layer a feature stands; all fields are kept as extended data.
Result<void> writeDxf(const FeatureTable& table, FileSet& set, const Progress& progress = {});

/// What of a table a drawing would lose.
std::vector<std::string> limitsOfDxf(const FeatureTable& table);

/// Under which name values are kept as extended data.
inline constexpr const char* kDxfOwner = "INDIGO_LEDGE";

}  // namespace ledge::io
