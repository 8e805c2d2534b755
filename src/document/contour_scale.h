#pragma once
#include "document/document.h"

/// Contours whose interval grows as the scale becomes smaller.
namespace ledge::doc {

/// The style as it is drawn at 1 : `scale`. Where it thins, the interval becomes the first of its
/// round multiples (25, 50, 100, 250 …) that is no less than 0.4 mm of the scale in metres: 40 m at
/// 1 : 100 000. Every line drawn is one of the full set; index lines stay where they are as long as
/// there are others between. Listed levels are drawn as they are. The rule is ours.
ContourStyle contoursAt(const ContourStyle& style, double scale);

/// Layers as they are drawn at a scale, for a legend: contours with the interval drawn, and with
/// its name where they are named by it.
std::vector<LayerPtr> layersAt(const std::vector<LayerPtr>& layers, double scale);

}  // namespace ledge::doc
