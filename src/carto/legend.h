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
    struct Circle {
        double mm = 0;
        QString text;
    };
    std::vector<Circle> circles;  ///< sizes of the mark, the largest first
};

/// What a class is called: by the name it was given, else "10 – 20". Each class holds its lower
/// limit; the last one its upper one too.
QString classText(const doc::ClassRule& rule, std::size_t i, const NumberFormat& numbers);

/// What a legend says of these layers: those that are lit, points before lines before areas, in the
/// order of the stack. Hillshades and steepness tints, which explain themselves, are left out.
std::vector<LegendEntry> legendEntries(const std::vector<doc::LayerPtr>& layers,
                                       const doc::LegendItem& item);

/// Draws in balanced columns within a rectangle, in pixels. Returns the height used.
double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double pxPerMm);

}  // namespace ledge::carto
