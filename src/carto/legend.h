#pragma once
#include <QPainter>

#include "carto/text.h"
#include "document/document.h"

namespace ledge::carto {

/// One line of a legend, or a ramp with its numbers.
struct LegendEntry {
    doc::Id layer = 0;
    QString text;
    GeometryType geometry = GeometryType::None;
    doc::Look look;
    std::optional<Ramp> ramp;
    QString low, middle, high;  ///< numbers under a ramp, unit with the last
    bool isHeading = false;
};

/// What a legend says of these layers: those that are lit, points before lines before areas, in the
/// order of the stack. Hillshades and steepness tints, which explain themselves, are left out.
std::vector<LegendEntry> legendEntries(const std::vector<doc::LayerPtr>& layers,
                                       const doc::LegendItem& item);

/// Draws in balanced columns within a rectangle, in pixels. Returns the height used.
double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double pxPerMm);

}  // namespace ledge::carto
