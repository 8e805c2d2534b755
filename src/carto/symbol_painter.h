#pragma once
#include <QPainter>
#include <QPainterPath>

#include "document/symbol.h"

namespace ledge::carto {

/// What a symbol is painted on, in pixels: each part asks for what it needs of it.
class SymbolShape {
public:
    virtual ~SymbolShape() = default;
    /// `reachPx`: how far ink goes beyond, so that cuts at a frame stay out of sight.
    virtual QPainterPath area(double reachPx) const = 0;
    virtual QPainterPath lines(double reachPx) const = 0;
    /// Lines piece by piece, with how far along its line each begins, for dashes.
    struct Piece {
        QPainterPath path;
        double fromPx = 0;
    };
    virtual std::vector<Piece> pieces(double reachPx) const = 0;
    virtual std::vector<QPointF> points(double reachPx) const = 0;
    /// Where patterns are counted from: the same place of the map, whatever the frame.
    virtual QPointF origin() const { return {}; }
};

/// Those that are painted before all other features, the others, or all.
enum class Parts : std::uint8_t { All, Beneath, Above };
/// Parts, bottom first.
void paintSymbol(QPainter& painter, const doc::Symbol& symbol, const SymbolShape& shape,
                 double pxPerMm, Parts which = Parts::All);

/// A mark's outline around the origin, of a diameter.
QPainterPath markPath(doc::Mark mark, double diameter);
bool isDashed(const doc::LinePart& line);
QPen penOf(const doc::LinePart& line, double pxPerMm);

}  // namespace ledge::carto
