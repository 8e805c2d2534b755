#pragma once
#include <vector>

#include "core/terrain/slope.h"

namespace ledge::terrain {

/// Direction to a light: azimuth clockwise from north, altitude above the horizon, degrees.
struct Light {
    double azimuth = 315, altitude = 45;
    bool operator==(const Light&) const = default;
};

/// Illumination of a height block: the cosine of the angle between the surface normal and the
/// light, 0 where it faces away, so flat ground has sin(altitude).
///
/// Shapes, nodata and errors as for slope(). Several lights are blended cell by cell, each weighted
/// by the squared sine of the angle between its azimuth and the local aspect (Mark, USGS Open-File
/// Report 92-422, 1992), so that ridges along the first light are modelled too.
Result<void> hillshade(BlockView<const float> heights, std::span<const CellSize> cells,
                       double heightScale, GradientMethod method, const std::vector<Light>& lights,
                       BlockView<float> out, const std::stop_token& stop = {});

/// Turns illumination 0 to 1 into whole numbers 1 to 255; NaN stays.
void toShadeBytes(float* illumination, std::size_t count);

}  // namespace ledge::terrain
