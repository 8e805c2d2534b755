#pragma once
#include <QPainter>

#include "carto/drawing_data.h"
#include "carto/map_frame.h"

namespace ledge::carto {

/// Finds the look of features of one table in one style.
class LookFinder {
public:
    LookFinder(const doc::VectorStyle& style, const FeatureTable& table);
    doc::Look at(const FeatureView& feature) const;

private:
    const doc::VectorStyle& m_style;
    int m_field;
    RampTable m_ramp;
    std::map<std::string, const doc::Look*> m_byValue;
};

/// Features that meet the frame, in their order, marks and lines in paper sizes.
Result<void> paintFeatures(QPainter& painter, const MapFrame& frame, const MapFeatures& features,
                           const doc::VectorStyle& style, const Progress& progress);

/// One geometry with a look, in pixels of the frame.
void paintGeometry(QPainter& painter, const MapFrame& frame, const GeometryView& geometry,
                   const doc::Look& look);

/// Outline for what is selected or probed: a lichen line on a paper-coloured casing.
void paintOutline(QPainter& painter, const MapFrame& frame, const GeometryView& geometry);

/// A mark's outline around the origin, of a diameter.
QPainterPath markPath(doc::Mark mark, double diameter);
QPen penOf(const doc::Look& look, double pxPerMm);
/// The fill, or paper colour around points.
void drawMark(QPainter& painter, QPointF at, const doc::Look& look, double pxPerMm);

}  // namespace ledge::carto
