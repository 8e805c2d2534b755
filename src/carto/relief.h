#pragma once
#include <QImage>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Heights on a frame's pixels with a rim of one, in the source's own unit; NaN for no data.
Result<Grid<float>> frameHeights(const Pyramid& pyramid, const MapFrame& frame,
                                 Resampling resampling, const Progress& progress);

/// For each pixel the share of a hillshade's lights that reach it over the terrain in view and
/// around it. `heights` are the frame's, with their rim.
Result<Grid<float>> lightShares(const Pyramid& pyramid, const MapFrame& frame,
                                const Grid<float>& heights, const doc::HillshadeStyle& style,
                                double metresPerHeight, const Progress& progress);

/// A hillshade for laying over colour: `shade` multiplies, `light` screens. Flat ground is clear in
/// both. Without colour beneath, `plain` is the grey picture. `reached` may be empty or hold the
/// share of the lights that each pixel gets.
struct ShadePictures {
    QImage shade, light;
};
Result<ShadePictures> shadePictures(const Grid<float>& heights, const MapFrame& frame,
                                    const doc::HillshadeStyle& style, double metresPerHeight,
                                    const Grid<float>& reached, const std::stop_token& stop);
Result<QImage> plainShade(const Grid<float>& heights, const MapFrame& frame,
                          const doc::HillshadeStyle& style, double metresPerHeight,
                          const Grid<float>& reached, const std::stop_token& stop);

/// Heights (with rim) through a ramp over metres.
QImage tinted(const Grid<float>& heights, const Ramp& ramp, double factor);

Result<QImage> steepnessPicture(const Grid<float>& heights, const MapFrame& frame,
                                const doc::SteepnessStyle& style, double metresPerHeight,
                                const std::stop_token& stop);

}  // namespace ledge::carto
