#include "document/edits/sheet_edits.h"

#include <algorithm>
#include <cmath>
#include <set>

#include "document/edits/item_layout.h"
#include "document/edits/layer_edits.h"
#include "document/edits/sheet_templates.h"

namespace ledge::doc {
Document withSheet(Document document, Id id, const std::function<void(Sheet&)>& change) {
    for (Shared<Sheet>& sheet : document.sheets)
        if (sheet->id == id)
            sheet.change([&](Sheet& next) {
                change(next);
                next.id = id;
                settlePins(next);
            });
    return document;
}

Document withItem(Document document, Id sheetId, Id itemId,
                  const std::function<void(SheetItem&)>& change) {
    return withSheet(std::move(document), sheetId, [&](Sheet& sheet) {
        for (Shared<SheetItem>& one : sheet.items)
            if (one->id == itemId)
                one.change([&](SheetItem& next) { change(next), next.id = itemId; });
    });
}

std::pair<Document, Id> addItem(Document document, Id sheetId, SheetItem added) {
    added.id = document.nextId++;
    const Id id = added.id;
    document = withSheet(std::move(document), sheetId, [&](Sheet& sheet) {
        sheet.items.insert(sheet.items.begin(), std::move(added));
    });
    return {std::move(document), id};
}

Document removeItem(Document document, Id sheetId, Id itemId) {
    return withSheet(std::move(document), sheetId, [&](Sheet& sheet) {
        std::erase_if(sheet.items, [&](const SheetItem& one) { return one.id == itemId; });
    });
}

namespace {
using NewIds = std::map<Id, Id>;

// Whatever names an item by its id.
void forEachItemReference(SheetItem& item, const std::function<void(Id&)>& visit) {
    std::visit(
        [&]<typename T>(T& content) {
            if constexpr (requires { content.panel; }) visit(content.panel);
            if constexpr (std::is_same_v<T, MapPanel>) {
                visit(content.shownIn);
                visit(content.follows);
            }
        },
        item.content);
    for (ItemPin& pin : item.pins) visit(pin.of);
}

bool isPanelOf(const Document& document, Id id) {
    return std::any_of(document.sheets.begin(), document.sheets.end(), [id](const Sheet& sheet) {
        const SheetItem* item = sheet.item(id);
        return item && item->as<MapPanel>();
    });
}

// Items named by their new ids; those that did not come along as the sheet has them, else none.
void renumber(SheetItem& item, const NewIds& ids, const Document& document, const Sheet* host) {
    forEachItemReference(item, [&](Id& id) {
        if (const auto it = ids.find(id); it != ids.end())
            id = it->second;
        else if (!(host && host->item(id)) && !document.view(id) && !isPanelOf(document, id))
            id = 0;
    });
}

// Layers that a document does not have are nothing to it.
void letGo(SheetItem& item, const Document& document) {
    const auto isGone = [&](Id id) { return id != 0 && !document.layer(id); };
    if (auto* panel = item.as<MapPanel>()) {
        if (panel->lit) std::erase_if(*panel->lit, isGone);
        if (panel->lit && panel->lit->empty()) panel->lit.reset();
        if (isGone(panel->shapedBy)) panel->shapedBy = 0;
    }
    if (auto* legend = item.as<LegendItem>()) {
        std::erase_if(legend->names, [&](const auto& one) { return isGone(one.first); });
        std::erase_if(legend->left_out, isGone);
        std::erase_if(legend->order, isGone);
    }
    if (auto* table = item.as<TableItem>(); table && isGone(table->layer)) table->layer = 0;
    if (auto* chart = item.as<ChartItem>(); chart && isGone(chart->layer)) chart->layer = 0;
    if (auto* profile = item.as<ProfileItem>(); profile && !document.profile(profile->profile))
        profile->profile = 0;
}
}  // namespace

std::pair<Document, Id> addSheet(Document document, Sheet sheet) {
    // One of its name is replaced, and what is called alike keeps its id.
    const auto there = std::find_if(document.sheets.begin(), document.sheets.end(),
                                    [&](const Sheet& one) { return one.name == sheet.name; });
    const Sheet before = there == document.sheets.end() ? Sheet() : Sheet(**there);
    const auto known = [&before](const SheetItem& item) -> Id {
        for (const SheetItem& one : before.items)
            if (one.name == item.name && itemKind(one) == itemKind(item)) return one.id;
        return 0;
    };
    sheet.id = before.id != 0 ? before.id : document.nextId++;
    NewIds ids;
    std::set<Id> taken;
    for (const SheetItem& item : sheet.items) {
        const Id same = known(item);
        const bool isFree = same != 0 && taken.insert(same).second;
        ids.emplace(item.id, isFree ? same : document.nextId++);
    }
    for (Shared<SheetItem>& one : sheet.items)
        one.change([&](SheetItem& item) {
            item.id = ids[item.id];
            renumber(item, ids, document, nullptr);
            letGo(item, document);
        });
    for (Id* panel : {&sheet.series.panel, &sheet.series.indexPanel}) {
        const auto it = ids.find(*panel);
        *panel = it == ids.end() ? 0 : it->second;
    }
    const Id id = sheet.id;
    settlePins(sheet);
    if (there == document.sheets.end())
        document.sheets.push_back(std::move(sheet));
    else
        *there = Shared<Sheet>(std::move(sheet));
    return {std::move(document), id};
}

std::pair<Document, Id> addSheet(Document document, const std::string& name, double widthMm,
                                 double heightMm, const MapView& view) {
    Sheet sheet;
    sheet.name = name;
    sheet.widthMm = widthMm, sheet.heightMm = heightMm;
    Id place = 0;
    for (SheetItem& item :
         sheetTemplates().front().items(widthMm, heightMm, view, document.mapCrs)) {
        item.id = ++place;
        sheet.items.push_back(std::move(item));
    }
    return addSheet(std::move(document), std::move(sheet));
}

Document addItems(Document document, Id sheetId, std::vector<SheetItem> items) {
    const Sheet* sheet = document.sheet(sheetId);
    if (!sheet) return document;
    NewIds ids;
    for (const SheetItem& item : items) {
        Id there = 0;
        for (const SheetItem& one : sheet->items)
            if (one.name == item.name && itemKind(one) == itemKind(item)) there = one.id;
        ids.emplace(item.id, there != 0 ? there : document.nextId++);
    }
    for (SheetItem& item : items) {
        item.id = ids[item.id];
        renumber(item, ids, document, sheet);
        letGo(item, document);
    }
    return withSheet(std::move(document), sheetId, [&](Sheet& next) {
        for (auto it = items.rbegin(); it != items.rend(); ++it) {
            const auto same = std::find_if(next.items.begin(), next.items.end(),
                                           [&](const auto& one) { return one->id == it->id; });
            if (same == next.items.end())
                next.items.insert(next.items.begin(), std::move(*it));
            else
                same->change([&](SheetItem& old) { old = std::move(*it); });
        }
    });
}

Document removeSheet(Document document, Id id) {
    std::erase_if(document.sheets, [id](const Sheet& s) { return s.id == id; });
    return withoutUnusedSources(std::move(document));
}

namespace {
// How far type may grow or shrink with its page.
constexpr double kLeastType = 0.5, kMostType = 4;

// Sizes of type follow the page, rounded to half points; never below what can be read.
void fitType(SheetItem& item, double factor) {
    std::visit(
        [&]<typename T>(T& content) {
            if constexpr (requires { content.sizePt; })
                content.sizePt = std::max(std::min(5.0, content.sizePt),
                                          std::round(content.sizePt * factor * 2) / 2);
        },
        item.content);
}

// Every item whole on the page: moved first, and made smaller only where it is larger than that.
void keepOnPage(PageRect& r, double widthMm, double heightMm) {
    r.width = std::min(r.width, widthMm), r.height = std::min(r.height, heightMm);
    r.left = std::clamp(r.left, 0.0, widthMm - r.width);
    r.top = std::clamp(r.top, 0.0, heightMm - r.height);
}

// By the same shares of a smaller page, or where type follows: what did not overlap does not.
PageRect shared(const PageRect& r, double sx, double sy) {
    return {r.left * sx, r.top * sy, r.width * sx, r.height * sy};
}

// On a larger page items keep their size and their distance from the edges they are near; panels
// take up what the page gains.
PageRect anchored(const SheetItem& item, const Sheet& old, double widthMm, double heightMm) {
    PageRect r = item.rect;
    const double moreWidth = widthMm - old.widthMm, moreHeight = heightMm - old.heightMm;
    const bool isPanel = item.as<MapPanel>();
    if (isPanel && r.width > old.widthMm / 2)
        r.width += moreWidth;
    else if (isPanel)
        r.left *= widthMm / old.widthMm, r.width *= widthMm / old.widthMm;
    else if (r.left + r.width / 2 > old.widthMm / 2)
        r.left += moreWidth;
    if (isPanel && r.height > old.heightMm / 2)
        r.height += moreHeight;
    else if (isPanel)
        r.top *= heightMm / old.heightMm, r.height *= heightMm / old.heightMm;
    else if (r.top + r.height / 2 > old.heightMm / 2)
        r.top += moreHeight;
    return r;
}
}  // namespace

Document resizeSheet(Document document, Id id, double widthMm, double heightMm, bool fits,
                     bool fitsType) {
    return withSheet(std::move(document), id, [&](Sheet& sheet) {
        const double sx = widthMm / sheet.widthMm, sy = heightMm / sheet.heightMm;
        const double type = std::clamp(std::sqrt(sx * sy), kLeastType, kMostType);
        const bool isAnchored = !fitsType && sx >= 1 && sy >= 1;
        for (Shared<SheetItem>& one : sheet.items)
            one.change([&](SheetItem& item) {
                if (fits)
                    item.rect = isAnchored ? anchored(item, sheet, widthMm, heightMm)
                                           : shared(item.rect, sx, sy);
                if (fits && fitsType) fitType(item, type);
                keepOnPage(item.rect, widthMm, heightMm);
            });
        if (fits) {
            for (double& guide : sheet.guidesAcross) guide *= sx;
            for (double& guide : sheet.guidesDown) guide *= sy;
        }
        sheet.widthMm = widthMm, sheet.heightMm = heightMm;
    });
}

std::pair<Document, Id> saveView(Document document, const std::string& name, const MapView& view) {
    SavedView saved;
    saved.name = name;
    saved.view = view;
    for (const LayerPtr& layer : allLayers(document.layers))
        if (!layer->isVisible) saved.dark.insert(layer->id);
    for (SavedView& known : document.views) {
        if (known.name != name) continue;
        saved.id = known.id;
        known = saved;
        return {std::move(document), saved.id};
    }
    saved.id = document.nextId++;
    document.views.push_back(saved);
    return {std::move(document), saved.id};
}

std::pair<Document, Id> saveProfile(Document document, SavedProfile profile) {
    const auto same = std::find_if(document.profiles.begin(), document.profiles.end(),
                                   [&](const SavedProfile& p) { return p.name == profile.name; });
    if (same != document.profiles.end()) {
        profile.id = same->id;
        *same = std::move(profile);
        const Id id = same->id;
        return {std::move(document), id};
    }
    profile.id = document.nextId++;
    const Id id = profile.id;
    document.profiles.push_back(std::move(profile));
    return {std::move(document), id};
}

Document removeProfile(Document document, Id id) {
    std::erase_if(document.profiles, [id](const SavedProfile& p) { return p.id == id; });
    return document;
}

Document renameProfile(Document document, Id id, const std::string& name) {
    for (SavedProfile& p : document.profiles)
        if (p.id == id) p.name = name;
    return document;
}

Document removeView(Document document, Id id) {
    std::erase_if(document.views, [id](const SavedView& v) { return v.id == id; });
    return document;
}

Document renameView(Document document, Id id, const std::string& name) {
    for (SavedView& view : document.views)
        if (view.id == id) view.name = name;
    return document;
}

namespace {
// What is lit as it should be is shared.
std::vector<LayerPtr> withLamps(std::vector<LayerPtr> layers, const std::set<Id>& dark) {
    for (LayerPtr& slot : layers) {
        const bool lit = !dark.contains(slot->id);
        const auto* group = slot->as<Group>();
        auto inner = group ? withLamps(group->children, dark) : std::vector<LayerPtr>();
        if (slot->isVisible == lit && (!group || inner == group->children)) continue;
        auto copy = std::make_shared<Layer>(*slot);
        copy->isVisible = lit;
        if (group) copy->as<Group>()->children = std::move(inner);
        slot = std::move(copy);
    }
    return layers;
}
}  // namespace

Document withLampsOf(Document document, Id id) {
    const SavedView* view = document.view(id);
    if (!view) return document;
    const std::set<Id> dark = view->dark;
    document.layers = withLamps(document.layers, dark);
    return document;
}

double roundScale(double denominator) {
    const double power = std::pow(10.0, std::floor(std::log10(std::max(1.0, denominator))));
    for (const double step : {1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0})
        if (step * power >= denominator * (1 - 1e-9)) return step * power;
    return 10 * power;
}

}  // namespace ledge::doc
