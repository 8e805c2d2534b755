#pragma once
#include "core/raster/block_view.h"

namespace ledge {

/// A grid with a Gaussian of this standard deviation (cells) laid over it, cut at three of them.
/// Missing cells stay missing and count for nothing in their neighbours; beyond the edge nothing
/// counts. Safe from several threads.
Grid<float> gaussian(const Grid<float>& cells, double sigma);

/// How many cells around one have a part in it.
std::size_t gaussianReach(double sigma);

}  // namespace ledge
