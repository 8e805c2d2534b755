#pragma once
#include "core/derive/joins.h"
#include "core/raster/raster_source.h"

namespace ledge::derive {

/// A table with what the cells of a raster come to under each area: cells (those whose centres lie
/// inside), mean, sum, median, min, max, and majority (the most frequent value, the smallest of
/// several), in columns that begin with `prefix`. Cells at full resolution, no data left out; areas
/// in any CRS. An area that holds no centre has count 0 and no values.
/// Errors: those between the CRSs and of reading; Cancelled.
Result<FeatureTable> withZonal(const FeatureTable& areas, const RasterSource& raster, int band,
                               const std::string& prefix, Remarks& remarks,
                               const Progress& progress = {});

/// A table with the value of a raster at each feature: of a point there, of others at a point well
/// inside. Errors: those between the CRSs; Cancelled.
Result<FeatureTable> withCellValues(const FeatureTable& table, const RasterSource& raster, int band,
                                    const std::string& name, Remarks& remarks,
                                    const Progress& progress = {});

}  // namespace ledge::derive
