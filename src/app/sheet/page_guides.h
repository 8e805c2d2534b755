#pragma once
#include <QRectF>

#include "document/sheet.h"

namespace ledge::app {

/// Which part of an item a position touches: inside, or a handle given by the sides it moves.
struct Grip {
    bool isInside = false;
    int horizontal = 0, vertical = 0;  ///< -1 left or top, 1 right or bottom
    bool isHandle() const { return horizontal != 0 || vertical != 0; }
};
Grip gripAt(const doc::PageRect& rect, QPointF mm, double reachMm);

/// A rectangle after dragging a grip, never smaller than `leastMm`.
doc::PageRect dragged(const doc::PageRect& rect, const Grip& grip, QPointF byMm,
                      double leastMm = 4);

/// Where a rectangle came to lie on something: lines across and down the page to show it by.
struct Snap {
    doc::PageRect rect;
    std::optional<double> across, down;  ///< x, y of the line in millimetres
};
/// Edges and middles drawn to those of the page, its margins, its guides and its other items, where
/// they are near. Items in `moved` do not count.
Snap snapped(doc::PageRect rect, const Grip& grip, const doc::Sheet& sheet,
             const std::vector<doc::Id>& moved, double reachMm);

}  // namespace ledge::app
