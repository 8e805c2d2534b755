#pragma once
#include <array>
#include <string_view>

#include "core/crs/transformation.h"
#include "core/raster/pyramid.h"

namespace ledge {

enum class Resampling : std::uint8_t { Nearest, Bilinear, Cubic, Average };
/// Their names, in the order of the enumeration.
inline constexpr std::array<std::string_view, 4> kResamplingNames{"nearest", "bilinear", "cubic",
                                                                  "average"};
/// Bilinear for a name that is none of these.
constexpr Resampling resamplingNamed(std::string_view name) {
    for (std::size_t i = 0; i < kResamplingNames.size(); ++i)
        if (kResamplingNames[i] == name) return static_cast<Resampling>(i);
    return Resampling::Bilinear;
}

/// A grid of target cells: `toWorld` goes from (column, row) of cell corners to the target CRS.
struct TargetGrid {
    std::size_t rows = 0, cols = 0;
    Affine toWorld;
};

/// A raster seen on another grid and in another CRS.
///
/// `toTarget` leads from the raster's CRS to the target's. Positions are computed exactly on a
/// lattice of 16 cells and interpolated between where that is within 0.05 cell of the level read;
/// exactly elsewhere. Reduced levels are read where the target is coarser (Nearest only with a
/// palette), so that every source cell counts; Average is Bilinear over those. No data: a target
/// cell whose nearest source cell has none, has none; other missing neighbours are left out of the
/// weights. Errors: those of the source; Cancelled.
Result<Grid<float>> warped(const Pyramid& pyramid, const crs::Transformation& toTarget,
                           const TargetGrid& target, Resampling resampling,
                           const Progress& progress = {});

/// The cell size of a grid in the target CRS that keeps about the raster's resolution, and the
/// extent it covers there. Errors: InvalidArgument when nothing of it can be transformed.
Result<TargetGrid> suggestedGrid(const RasterInfo& info, const crs::Transformation& toTarget,
                                 std::optional<double> cell = {}, std::optional<Box> extent = {});

}  // namespace ledge
