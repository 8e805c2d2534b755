#include "document/edits/item_layout.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "core/base/numbers.h"

namespace ledge::doc {

std::string rectWords(const PageRect& rect) {
    std::string out;
    for (const double mm : {rect.left, rect.top, rect.width, rect.height})
        out += (out.empty() ? "" : ",") + exactNumber(std::round(mm * 10) / 10);
    return out;
}
namespace {
using Items = std::vector<Shared<SheetItem>>;

bool isIn(const std::vector<Id>& items, Id id) {
    return std::find(items.begin(), items.end(), id) != items.end();
}

std::vector<const SheetItem*> found(const Sheet& sheet, const std::vector<Id>& items) {
    std::vector<const SheetItem*> out;
    for (const Id id : items)
        if (const SheetItem* item = sheet.item(id)) out.push_back(item);
    return out;
}

void setRect(Sheet& sheet, Id id, const PageRect& rect) {
    for (Shared<SheetItem>& one : sheet.items)
        if (one->id == id && !one->isLocked && !(one->rect == rect))
            one.change([&](SheetItem& item) { item.rect = rect; });
}

PageRect around(const std::vector<const SheetItem*>& items) {
    double left = 1e300, top = 1e300, right = -1e300, foot = -1e300;
    for (const SheetItem* item : items) {
        const PageRect& r = item->rect;
        left = std::min(left, r.left), top = std::min(top, r.top);
        right = std::max(right, r.left + r.width), foot = std::max(foot, r.top + r.height);
    }
    return {left, top, right - left, foot - top};
}

double sideOf(const PageRect& r, Side side) {
    switch (side) {
    case Side::Left: return r.left;
    case Side::Top: return r.top;
    case Side::Right: return r.left + r.width;
    case Side::Bottom: return r.top + r.height;
    }
    return 0;
}

bool isAcross(Side side) { return side == Side::Left || side == Side::Right; }

// The pins of one item fulfilled, the others being where they are.
PageRect pinned(const Sheet& sheet, const SheetItem& item) {
    PageRect r = item.rect;
    const PageRect page{0, 0, sheet.widthMm, sheet.heightMm};
    std::optional<double> at[4];
    for (const ItemPin& pin : item.pins) {
        const SheetItem* other = pin.of == 0 ? nullptr : sheet.item(pin.of);
        if ((pin.of != 0 && !other) || isAcross(pin.side) != isAcross(pin.ofSide)) continue;
        at[static_cast<std::size_t>(pin.side)] =
            sideOf(other ? other->rect : page, pin.ofSide) + pin.mm;
    }
    const auto settle = [](double& start, double& length, const std::optional<double>& low,
                           const std::optional<double>& high) {
        if (low && high && *high > *low)
            start = *low, length = *high - *low;
        else if (low)
            start = *low;
        else if (high)
            start = *high - length;
    };
    settle(r.left, r.width, at[0], at[2]);
    settle(r.top, r.height, at[1], at[3]);
    return r;
}
}  // namespace

void settlePins(Sheet& sheet) {
    // As many rounds as there can be steps from one pin to the next, and no more.
    for (std::size_t round = 0; round <= sheet.items.size(); ++round) {
        bool isStill = true;
        for (Shared<SheetItem>& one : sheet.items) {
            if (one->pins.empty()) continue;
            const PageRect rect = pinned(sheet, *one);
            if (std::abs(rect.left - one->rect.left) < 1e-9 &&
                std::abs(rect.top - one->rect.top) < 1e-9 &&
                std::abs(rect.width - one->rect.width) < 1e-9 &&
                std::abs(rect.height - one->rect.height) < 1e-9)
                continue;
            if (!std::isfinite(rect.left + rect.top + rect.width + rect.height) ||
                std::abs(rect.left) + std::abs(rect.top) > 1e5)
                continue;
            one.change([&](SheetItem& item) { item.rect = rect; });
            isStill = false;
        }
        if (isStill) return;
    }
}

void alignItems(Sheet& sheet, const std::vector<Id>& items, Edge edge) {
    const auto all = found(sheet, items);
    if (all.empty()) return;
    const double margin = sheet.marginMm;
    const PageRect box = all.size() > 1 ? around(all)
                                        : PageRect{margin, margin, sheet.widthMm - 2 * margin,
                                                   sheet.heightMm - 2 * margin};
    std::vector<std::pair<Id, PageRect>> places;
    for (const SheetItem* item : all) {
        PageRect r = item->rect;
        switch (edge) {
        case Edge::Left: r.left = box.left; break;
        case Edge::Centre: r.left = box.left + (box.width - r.width) / 2; break;
        case Edge::Right: r.left = box.left + box.width - r.width; break;
        case Edge::Top: r.top = box.top; break;
        case Edge::Middle: r.top = box.top + (box.height - r.height) / 2; break;
        case Edge::Foot: r.top = box.top + box.height - r.height; break;
        }
        places.emplace_back(item->id, r);
    }
    for (const auto& [id, rect] : places) setRect(sheet, id, rect);
}

void distributeItems(Sheet& sheet, const std::vector<Id>& items, bool isAcross) {
    auto all = found(sheet, items);
    if (all.size() < 3) return;
    const auto start = [&](const SheetItem* i) { return isAcross ? i->rect.left : i->rect.top; };
    const auto length = [&](const SheetItem* i) {
        return isAcross ? i->rect.width : i->rect.height;
    };
    std::stable_sort(all.begin(), all.end(), [&](const SheetItem* a, const SheetItem* b) {
        return start(a) + length(a) / 2 < start(b) + length(b) / 2;
    });
    double sum = 0;
    for (const SheetItem* item : all) sum += length(item);
    const double from = start(all.front()), to = start(all.back()) + length(all.back());
    const double gap = (to - from - sum) / static_cast<double>(all.size() - 1);
    std::vector<std::pair<Id, PageRect>> places;
    double at = from;
    for (const SheetItem* item : all) {
        PageRect r = item->rect;
        (isAcross ? r.left : r.top) = at;
        at += length(item) + gap;
        places.emplace_back(item->id, r);
    }
    for (const auto& [id, rect] : places) setRect(sheet, id, rect);
}

void sizeItems(Sheet& sheet, const std::vector<Id>& items, bool isWidth, bool isHeight) {
    const auto all = found(sheet, items);
    if (all.size() < 2) return;
    const PageRect like = all.front()->rect;
    std::vector<std::pair<Id, PageRect>> places;
    for (const SheetItem* item : all) {
        PageRect r = item->rect;
        if (isWidth) r.width = like.width;
        if (isHeight) r.height = like.height;
        places.emplace_back(item->id, r);
    }
    for (const auto& [id, rect] : places) setRect(sheet, id, rect);
}

void moveItems(Sheet& sheet, const std::vector<Id>& items, double right, double down) {
    for (const SheetItem* item : found(sheet, withGroups(sheet, items))) {
        PageRect r = item->rect;
        r.left += right, r.top += down;
        setRect(sheet, item->id, r);
    }
}

void orderItems(Sheet& sheet, const std::vector<Id>& items, Layering to, Id of) {
    Items moved, rest;  // the first is on top
    for (Shared<SheetItem>& one : sheet.items)
        (isIn(items, one->id) ? moved : rest).push_back(std::move(one));
    auto at = rest.begin();
    if (to == Layering::Back) at = rest.end();
    if (to == Layering::Above || to == Layering::Below) {
        at =
            std::find_if(rest.begin(), rest.end(), [of](const auto& one) { return one->id == of; });
        if (at != rest.end() && to == Layering::Below) ++at;
    }
    rest.insert(at, moved.begin(), moved.end());
    sheet.items = std::move(rest);
}

Id nextInOrder(const Sheet& sheet, const std::vector<Id>& items, bool isUp) {
    Id above = 0;
    bool hasMet = false;
    for (const SheetItem& item : sheet.items) {
        if (isIn(items, item.id)) {
            if (isUp) return above;
            hasMet = true;
            above = 0;
        } else if (!hasMet) {
            above = item.id;
        } else if (above == 0) {
            above = item.id;  // the first below the last of them met so far
        }
    }
    return isUp ? 0 : above;
}

std::vector<Id> withGroups(const Sheet& sheet, const std::vector<Id>& items) {
    std::set<int> groups;
    for (const SheetItem* item : found(sheet, items))
        if (item->group != 0) groups.insert(item->group);
    std::vector<Id> out;
    for (const SheetItem& item : sheet.items)
        if (isIn(items, item.id) || groups.contains(item.group)) out.push_back(item.id);
    return out;
}

void groupItems(Sheet& sheet, const std::vector<Id>& items) {
    const auto all = withGroups(sheet, items);
    int free = 1;
    std::set<int> taken;
    for (const SheetItem& item : sheet.items)
        if (!isIn(all, item.id)) taken.insert(item.group);
    while (taken.contains(free)) ++free;
    for (Shared<SheetItem>& one : sheet.items)
        if (isIn(all, one->id)) one.change([&](SheetItem& item) { item.group = free; });
}

void ungroupItems(Sheet& sheet, const std::vector<Id>& items) {
    const auto all = withGroups(sheet, items);
    for (Shared<SheetItem>& one : sheet.items)
        if (isIn(all, one->id)) one.change([](SheetItem& item) { item.group = 0; });
}

}  // namespace ledge::doc
