#pragma once
#include "document/sheet.h"

/// Places of items on a page, in millimetres. What is locked stays where it is.
namespace ledge::doc {

/// A rectangle as edits take it: left, top, width and height, to a tenth of a millimetre.
std::string rectWords(const PageRect& rect);

/// Pins fulfilled: each pinned side is put at its distance; an item pinned on two opposite sides
/// takes their distance as its size. Pins that go in a circle, or to what is not there, are left.
void settlePins(Sheet& sheet);

enum class Edge : std::uint8_t { Left, Centre, Right, Top, Middle, Foot };
inline constexpr std::array<std::string_view, 6> kEdgeNames{"left", "centre", "right",
                                                            "top",  "middle", "foot"};
/// Along the edge or middle of the box around all of them; one alone along the page's margins.
void alignItems(Sheet& sheet, const std::vector<Id>& items, Edge edge);
/// Equal gaps between the outer two; three items at least.
void distributeItems(Sheet& sheet, const std::vector<Id>& items, bool isAcross);
/// As wide, or as high, as the first.
void sizeItems(Sheet& sheet, const std::vector<Id>& items, bool isWidth, bool isHeight);
/// By so much; items of a group go together.
void moveItems(Sheet& sheet, const std::vector<Id>& items, double rightMm, double downMm);

enum class Layering : std::uint8_t { Front, Back, Above, Below };
inline constexpr std::array<std::string_view, 4> kLayeringNames{"front", "back", "above", "below"};
/// In the order of drawing, above or below another item `of` or all; among each other they stay as
/// they are.
void orderItems(Sheet& sheet, const std::vector<Id>& items, Layering to, Id of = 0);
/// The item that they have to go above, or below, to come one step nearer to the top or the bottom;
/// 0 where they are there.
Id nextInOrder(const Sheet& sheet, const std::vector<Id>& items, bool isUp);

/// The items with those that are in a group with them.
std::vector<Id> withGroups(const Sheet& sheet, const std::vector<Id>& items);
void groupItems(Sheet& sheet, const std::vector<Id>& items);
void ungroupItems(Sheet& sheet, const std::vector<Id>& items);

}  // namespace ledge::doc
