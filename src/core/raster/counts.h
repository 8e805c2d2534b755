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

/// What cells of one value come to.
struct ValueSum {
    std::int64_t cells = 0;
    double squareMetres = 0;  ///< on the ellipsoid, each cell its own; 0 without a CRS
};
/// How many cells hold each value and what ground they cover (within 1e-6), from every cell.
/// Errors: LimitExceeded over `most` values.
Result<std::map<double, ValueSum>> valueSums(const RasterSource& source, int band, std::size_t most,
                                             const Progress& progress = {});

}  // namespace ledge
