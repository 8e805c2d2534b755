#include "app/stack/stack_rows.h"

#include <algorithm>
#include <set>

namespace ledge::app {
namespace {
void collect(const std::vector<doc::LayerPtr>& layers, int depth,
             std::vector<std::pair<doc::Id, int>>& out) {
    for (const auto& layer : layers) {
        out.emplace_back(layer->id, depth);
        const auto* group = layer->as<doc::Group>();
        if (group && !group->isFolded) collect(group->children, depth + 1, out);
    }
}

const std::vector<doc::LayerPtr>& listOf(const doc::Document& document, doc::Id group) {
    const doc::Layer* layer = group == 0 ? nullptr : document.layer(group);
    const auto* content = layer ? layer->as<doc::Group>() : nullptr;
    return content ? content->children : document.layers;
}

// The place as layers-move counts it: only what stays is above.
doc::Place amongStaying(const doc::Document& document, doc::Place place,
                        const std::vector<doc::Id>& moved) {
    const auto& list = listOf(document, place.group);
    const auto end = list.begin() + static_cast<std::ptrdiff_t>(std::min(place.index, list.size()));
    const std::set<doc::Id> leaving(moved.begin(), moved.end());
    const auto above = std::count_if(
        list.begin(), end, [&leaving](const doc::LayerPtr& l) { return leaving.contains(l->id); });
    place.index -= static_cast<std::size_t>(above);
    return place;
}
}  // namespace

std::vector<std::pair<doc::Id, int>> visibleStrips(const std::vector<doc::LayerPtr>& layers) {
    std::vector<std::pair<doc::Id, int>> out;
    collect(layers, 0, out);
    return out;
}

std::vector<StackRow> stackRows(const doc::Document& document, const doc::Sheet* sheet,
                                const RowHeights& heights) {
    std::vector<StackRow> out;
    int top = heights.gap;
    const auto add = [&](StackRow::Kind kind, doc::Id id, int depth, int height) {
        out.push_back({kind, id, depth, top, height});
        top += height + heights.gap;
    };
    if (sheet) {
        add(StackRow::Kind::Heading, 0, 0, heights.heading);
        for (const doc::SheetItem& item : sheet->items)
            add(StackRow::Kind::Item, item.id, 0, heights.item);
        add(StackRow::Kind::Heading, 1, 0, heights.heading);
    }
    for (const auto& [id, depth] : visibleStrips(document.layers))
        add(StackRow::Kind::Layer, id, depth, heights.layer);
    return out;
}

std::size_t rowAt(const std::vector<StackRow>& rows, int y) {
    return static_cast<std::size_t>(
        std::partition_point(rows.begin(), rows.end(),
                             [y](const StackRow& row) { return row.bottom() <= y; }) -
        rows.begin());
}

std::size_t rowOf(const std::vector<StackRow>& rows, StackRow::Kind kind, doc::Id id) {
    return static_cast<std::size_t>(
        std::find_if(rows.begin(), rows.end(),
                     [&](const StackRow& row) { return row.kind == kind && row.id == id; }) -
        rows.begin());
}

StripDrop dropAt(const std::vector<StackRow>& rows, const doc::Document& document, int y,
                 const std::vector<doc::Id>& moved) {
    const auto first = std::find_if(rows.begin(), rows.end(), [](const StackRow& row) {
        return row.kind == StackRow::Kind::Layer;
    });
    if (first == rows.end()) return {};
    const auto top =
        std::max<std::ptrdiff_t>(static_cast<std::ptrdiff_t>(rowAt(rows, y)), first - rows.begin());
    if (top >= std::ssize(rows))
        return {amongStaying(document, {0, document.layers.size()}, moved),
                rows.back().bottom() + 1, 0};
    const StackRow& row = rows[static_cast<std::size_t>(top)];
    const doc::Layer* hit = document.layer(row.id);
    const auto own = doc::placeOf(document, row.id);
    if (!hit || !own) return {};
    const auto* group = hit->as<doc::Group>();
    const int within = y - row.top;
    const bool isMoved = std::find(moved.begin(), moved.end(), row.id) != moved.end();
    if (group && !isMoved && within > row.height / 4 && within < row.height * 3 / 4)
        return {{row.id, 0}, row.bottom() + 1, row.id};
    if (within < row.height / 2) return {amongStaying(document, *own, moved), row.top - 3, 0};
    // Below the strip of an open group is its first place inside.
    if (group && !group->isFolded && !isMoved) return {{row.id, 0}, row.bottom() + 1, 0};
    return {amongStaying(document, {own->group, own->index + 1}, moved), row.bottom() + 1, 0};
}

}  // namespace ledge::app
