#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Contours of a frame, in its pixels, with their labels placed.
struct ContourDrawing {
    struct Line {
        double level = 0;
        bool isIndex = false;
        std::vector<Point> points;
    };
    struct Label {
        double level = 0;
        QString text;
        Point origin;
        double angle = 0;
        bool isWater = false;
        std::vector<Box> boxes;
    };
    std::vector<Line> lines;
    std::vector<Label> labels;
};

/// The heights that contours of a frame are traced on, in metres, with a little rim.
struct ContourField {
    Grid<float> heights;
    Affine toPixels;  ///< from its (column, row) of cell corners
};
/// At the frame's resolution; smoothed as files are with `smoothing` over 0.
Result<ContourField> contourField(const Pyramid& pyramid, const MapFrame& frame, int smoothing,
                                  double metresPerHeight, const Progress& progress);

/// Traces the contours of a frame and breaks index lines where their labels stand.
/// Labels that stand in `before` (of the same scale and turn, in its own frame's pixels) stay while
/// their line is there; `keepOff`: what no label may cover.
Result<ContourDrawing> traceContours(const ContourField& field, const MapFrame& frame,
                                     const doc::ContourStyle& style, const Progress& progress,
                                     const ContourDrawing* before = nullptr,
                                     const MapFrame& beforeFrame = {},
                                     const std::vector<Box>& keepOff = {});

void paintContours(QPainter& painter, const MapFrame& frame, const ContourDrawing& drawing,
                   const doc::ContourStyle& style);

/// The same onto a picture, on all cores.
void paintContours(QImage& picture, const MapFrame& frame, const ContourDrawing& drawing,
                   const doc::ContourStyle& style);

}  // namespace ledge::carto
