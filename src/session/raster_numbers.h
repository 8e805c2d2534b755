#pragma once
#include "core/raster/counts.h"
#include "core/raster/pyramid.h"

namespace ledge::session {

/// What the cells of a band amount to, with how often which values occur.
struct RasterNumbers {
    RasterStatistics statistics;
    Histogram histogram;
    /// From a reduced copy instead of every cell: good for a first look, never to be quoted as
    /// exact.
    bool isSampled = false;
};

/// From a copy of at most about a million cells; exact when the raster is no larger.
Result<RasterNumbers> sampledNumbers(const Pyramid& pyramid, std::size_t bins,
                                     const Progress& progress);
/// From every cell, read twice: for the range and for the histogram.
Result<RasterNumbers> exactNumbers(const RasterSource& raster, int band, std::size_t bins,
                                   const Progress& progress);

/// "−130 to 560, mean 41.2, standard deviation 88.0; 2 160 000 cells, 12 without data", marked when sampled.
std::string numbersText(const RasterNumbers& numbers, const std::string& unit);

}  // namespace ledge::session
