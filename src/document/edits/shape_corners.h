#pragma once
#include <span>
#include <vector>

#include "document/sheet.h"

namespace ledge::doc {

/// How far a shape keeps off its item's rectangle on each side, millimetres.
double shapeInset(const SheetItem& item);

/// Where the corners of a polygon, or the points of a line, stand on the page, millimetres, with
/// the item's turn. Empty for other forms and items.
std::vector<Point> cornersOf(const SheetItem& item);

/// The item with its corners at these places of the page: its rectangle is drawn around them, its
/// turn stays. Nothing is done for fewer than two, for other forms and items.
void setCorners(SheetItem& item, std::span<const Point> page);

}  // namespace ledge::doc
