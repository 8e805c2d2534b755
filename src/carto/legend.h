#pragma once
#include <QPainter>

#include "carto/shown_entries.h"
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
    bool isGroup = false;  ///< a heading over those of its layers
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
/// order of the stack; those that the item puts in order before them. Where groups are kept
/// together the layers of one of the stack's outermost groups follow its name. Hillshades and
/// steepness tints, which explain themselves, are left out. `scale`: of the panel, for sizes on the
/// ground. `shown`: entries of which there is something to see; null: all are listed.
std::vector<LegendEntry> legendEntries(const std::vector<doc::LayerPtr>& layers,
                                       const doc::LegendItem& item, double scale = 0,
                                       const ShownEntries* shown = nullptr);

/// How a legend lies in a rectangle: where it may give way, type shrinks to no less than 5 points
/// and columns are added or taken away until all entries are in; else what does not fit is counted.
struct LegendLayout {
    double sizePt = 7.5;
    int columns = 1;
    double columnPx = 0;
    struct Place {
        double x = 0, y = 0;
    };
    std::vector<Place> places;     ///< of the entries that are in
    std::size_t leftOut = 0;       ///< entries that found no room
    double width = 0, height = 0;  ///< used, in pixels
};
LegendLayout legendLayout(const QRectF& rect, const std::vector<LegendEntry>& entries,
                          const doc::LegendItem& item, double pxPerMm);

/// Draws in balanced columns within a rectangle, in pixels. Returns the height used.
double paintLegend(QPainter& painter, const QRectF& rect, const std::vector<LegendEntry>& entries,
                   const doc::LegendItem& item, double pxPerMm);

}  // namespace ledge::carto
