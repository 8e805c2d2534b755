#include "document/edits/sheet_edits.h"

#include <algorithm>
#include <cmath>

#include "document/edits/layer_edits.h"

namespace ledge::doc {
namespace {
SheetItem item(const std::string& name, PageRect rect, SheetContent content) {
    SheetItem out;
    out.name = name;
    out.rect = rect;
    out.content = std::move(content);
    return out;
}
}  // namespace

Document withSheet(Document document, Id id, const std::function<void(Sheet&)>& change) {
    for (Shared<Sheet>& sheet : document.sheets)
        if (sheet->id == id) sheet.change([&](Sheet& next) { change(next), next.id = id; });
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

std::pair<Document, Id> addSheet(Document document, const std::string& name, double widthMm,
                                 double heightMm, const MapView& view) {
    Sheet sheet;
    sheet.id = document.nextId++;
    sheet.name = name;
    sheet.widthMm = widthMm, sheet.heightMm = heightMm;
    const Id sheetId = sheet.id, panelId = document.nextId++;
    const double margin = std::max(8.0, std::min(widthMm, heightMm) * 0.05);
    const double foot = std::clamp(heightMm * 0.21, 34.0, 62.0);
    const double width = widthMm - 2 * margin;
    const double mapHeight = heightMm - 2 * margin - foot - 5;
    const double footTop = heightMm - margin - foot;
    MapPanel panel;
    panel.centre = view.centre, panel.scale = view.scale, panel.rotation = view.rotation;
    panel.crs = document.mapCrs;
    SheetItem map = item("Main map", {margin, margin + 5, width, mapHeight}, panel);
    map.id = panelId;
    TextItem title{"{project}", 18, true, false, {0x23, 0x26, 0x3F}, Align::Left};
    TextItem subtitle{"{crs} · {scale}", 8, false, false, {0x6B, 0x6F, 0x8E}, Align::Left};
    const double legendTop = footTop + 19, legendHeight = foot - 19;
    std::vector<SheetItem> items{
        item("Title", {margin, footTop + 1, width * 0.75, 9}, title),
        item("Subtitle", {margin, footTop + 10.5, width * 0.75, 5}, subtitle),
        item("Key", {margin, legendTop, width * 0.62, legendHeight},
             LegendItem{panelId, 3, 7.5, "", {}, {}}),
        item("Scale", {margin + width * 0.66, legendTop, width * 0.34, 9},
             ScaleBarItem{panelId, 7}),
        item("North", {margin + width - 9, footTop + 2, 9, 13}, NorthArrowItem{panelId}),
        item("Sources", {margin + width * 0.64, heightMm - margin - 6, width * 0.36, 6},
             CreditsItem{}),
    };
    for (SheetItem& one : items) one.id = document.nextId++;
    items.push_back(std::move(map));
    sheet.items.assign(items.begin(), items.end());
    document.sheets.push_back(std::move(sheet));
    return {std::move(document), sheetId};
}

Document removeSheet(Document document, Id id) {
    std::erase_if(document.sheets, [id](const Sheet& s) { return s.id == id; });
    return withoutUnusedSources(std::move(document));
}

namespace {
// Where an item of a sheet goes when its page gets another size.
void fitToPage(SheetItem& item, const Sheet& old, double widthMm, double heightMm) {
    const double sx = widthMm / old.widthMm, sy = heightMm / old.heightMm;
    PageRect& r = item.rect;
    if (!item.as<MapPanel>()) {
        if (r.left + r.width / 2 > old.widthMm / 2) r.left += widthMm - old.widthMm;
        if (r.top + r.height / 2 > old.heightMm / 2) r.top += heightMm - old.heightMm;
        r.left = std::clamp(r.left, 0.0, std::max(0.0, widthMm - r.width));
        r.top = std::clamp(r.top, 0.0, std::max(0.0, heightMm - r.height));
        return;
    }
    // A panel takes up what the page gains; margins keep their size.
    const double right = old.widthMm - r.left - r.width;
    const double below = old.heightMm - r.top - r.height;
    if (r.width > old.widthMm / 2)
        r.width = std::max(10.0, widthMm - r.left - right);
    else
        r.left *= sx, r.width *= sx;
    if (r.height > old.heightMm / 2)
        r.height = std::max(10.0, heightMm - r.top - below);
    else
        r.top *= sy, r.height *= sy;
}
}  // namespace

Document resizeSheet(Document document, Id id, double widthMm, double heightMm, bool fits) {
    return withSheet(std::move(document), id, [&](Sheet& sheet) {
        if (fits)
            for (Shared<SheetItem>& one : sheet.items)
                one.change([&](SheetItem& next) { fitToPage(next, sheet, widthMm, heightMm); });
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
