#pragma once
#include <QImage>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// About how many pixels of a frame a cell of a raster takes: the same wherever the frame looks.
double cellPixels(const Pyramid& pyramid, const MapFrame& frame);

/// The standard deviation, in pixels, of what relief is smoothed by before it is shaded: none as
/// long as cells are as large as what can be told apart on paper, and more the smaller the scale
/// becomes, so that small maps show massifs and not the wrinkles of every slope. The rule is ours.
double reliefSmoothing(const Pyramid& pyramid, const MapFrame& frame);

/// Heights on a frame's pixels with a rim of one, in the source's own unit; NaN for no data.
/// `smoothing` in pixels.
Result<Grid<float>> frameHeights(const Pyramid& pyramid, const MapFrame& frame,
                                 Resampling resampling, const Progress& progress,
                                 double smoothing = 0);

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
