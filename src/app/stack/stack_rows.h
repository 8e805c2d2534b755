#pragma once
#include "document/edits/layer_edits.h"

/// What stands where in the stack, without any widget: a row for each thing on the sheet and each
/// strip, top first. Made anew at each edit, so that a hundred thousand of them must be cheap.
namespace ledge::app {

struct StackRow {
    enum class Kind : std::uint8_t { Heading, Item, Layer };
    Kind kind = Kind::Layer;
    doc::Id id = 0;  ///< of the item or layer; of headings their number from the top
    int depth = 0;   ///< groups around it
    int top = 0, height = 0;
    bool operator==(const StackRow&) const = default;
    int bottom() const { return top + height; }
};

struct RowHeights {
    int heading = 20, item = 30, layer = 54, gap = 4;
};

/// Strips that show, top first, with their depth; children of folded groups do not.
std::vector<std::pair<doc::Id, int>> visibleStrips(const std::vector<doc::LayerPtr>& layers);

/// The sheet's items come first, under a heading of their own; null: the map is on the canvas.
std::vector<StackRow> stackRows(const doc::Document& document, const doc::Sheet* sheet,
                                const RowHeights& heights);

/// The first row that ends below y; rows.size() when none does.
std::size_t rowAt(const std::vector<StackRow>& rows, int y);
/// rows.size() when there is none.
std::size_t rowOf(const std::vector<StackRow>& rows, StackRow::Kind kind, doc::Id id);

/// Where strips that are let go at a height of the list would stand.
struct StripDrop {
    doc::Place place;  ///< as the edit "layers-move" takes it
    int lineY = 0;     ///< where the line that shows it is drawn
    doc::Id into = 0;  ///< the group whose strip was hit in its middle
};
StripDrop dropAt(const std::vector<StackRow>& rows, const doc::Document& document, int y,
                 const std::vector<doc::Id>& moved);

}  // namespace ledge::app
