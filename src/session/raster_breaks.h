#pragma once
#include "core/base/progress.h"
#include "core/classify/breaks.h"
#include "document/drawing_data.h"

namespace ledge::session {

/// The values of a band, at most a quarter of a million cells evenly over it: breaks of a picture's
/// classes and its limits need no more. Errors: of the source; Cancelled.
Result<classify::Sample> rasterSample(const doc::SourceRef& source, int band,
                                      const doc::DrawingData& data, const Progress& progress);

/// A raster's style with its colours spread anew over limits that leave out so many percent of its
/// values at each end. Errors: those, and for a raster without values.
Result<doc::RasterStyle> spreadAnew(doc::RasterStyle style, const doc::SourceRef& source,
                                    double cutPercent, const doc::DrawingData& data,
                                    const Progress& progress);
/// The same over limits that are given.
Result<Ramp> spreadRamp(const doc::RasterStyle& style, double low, double high,
                        const classify::Sample* sample);

}  // namespace ledge::session
