#pragma once
#include <map>

#include "core/raster/raster_source.h"

namespace ledge {

/// How often values of a band fall between even limits, from every cell.
struct Histogram {
    double low = 0, high = 1;
    std::vector<std::int64_t> counts;  ///< the last bin holds `high` too
    std::int64_t below = 0, above = 0, missing = 0;
};
Result<Histogram> histogram(const RasterSource& source, int band, double low, double high,
                            std::size_t bins, const Progress& progress = {});

/// How many cells hold each value, from every cell. Errors: LimitExceeded over `most` values.
Result<std::map<double, std::int64_t>> valueCounts(const RasterSource& source, int band,
                                                   std::size_t most, const Progress& progress = {});

}  // namespace ledge
