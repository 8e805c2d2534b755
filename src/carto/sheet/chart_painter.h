#pragma once
#include <QPainter>

#include "carto/text.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// What a chart of a layer's values shows.
struct ChartBars {
    struct Bar {
        double from = 0, to = 0;  ///< of a histogram: the values it counts
        double value = 0;         ///< how many, or how much
        QString name;             ///< of bars side by side
        Colour colour;
    };
    std::vector<Bar> bars;
    bool isHistogram = true;
    std::size_t missing = 0;  ///< rows without a number
    std::size_t left = 0;     ///< bars that the most leaves out
};
/// A histogram counts rows in bins of round width, each in the colour of the class that its middle
/// is in, where the layer is coloured in classes by the same numbers. Bars are the largest values,
/// or, without a field, how many rows each class or category of the layer's style has, in its
/// colour. Errors: of the layer, its fields and formulas.
Result<ChartBars> chartBars(const doc::Document& document, const doc::ChartItem& item,
                            const doc::DrawingData& data);

/// A histogram with round numbers on both sides, or bars that lie, their names before them.
void paintChart(QPainter& painter, const QRectF& rect, const ChartBars& bars,
                const doc::ChartItem& item, double pxPerMm);

}  // namespace ledge::carto
