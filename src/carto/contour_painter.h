#pragma once
#include <QPainter>

#include "carto/drawing_data.h"
#include "carto/map_frame.h"

namespace ledge::carto {

/// Contours of a frame, in its pixels, with their labels placed.
struct ContourDrawing {
    struct Line {
        double level = 0;
        bool isIndex = false;
        std::vector<Point> points;
    };
    struct Label {
        QString text;
        Point origin;
        double angle = 0;
        bool isWater = false;
        std::vector<Box> boxes;
    };
    std::vector<Line> lines;
    std::vector<Label> labels;
};

/// Traces the contours of what the frame shows, at the frame's resolution, and breaks index lines
/// where their labels stand.
Result<ContourDrawing> traceContours(const Pyramid& pyramid, const MapFrame& frame,
                                     const doc::ContourStyle& style, double metresPerHeight,
                                     const Progress& progress);

void paintContours(QPainter& painter, const MapFrame& frame, const ContourDrawing& drawing,
                   const doc::ContourStyle& style);

}  // namespace ledge::carto
