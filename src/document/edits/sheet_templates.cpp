#include "document/edits/sheet_templates.h"

#include <algorithm>
#include <array>

namespace ledge::doc {
namespace {
const Colour kInk{0x23, 0x26, 0x3F}, kMuted{0x6B, 0x6F, 0x8E};

SheetItem item(const std::string& name, PageRect rect, SheetContent content) {
    SheetItem out;
    out.name = name;
    out.rect = rect;
    out.content = std::move(content);
    return out;
}

SheetItem panel(const std::string& name, PageRect rect, const MapView& view,
                const std::string& crs) {
    MapPanel content;
    content.centre = view.centre, content.scale = view.scale, content.rotation = view.rotation;
    content.crs = crs;
    SheetItem out = item(name, rect, content);
    out.frameMm = kNeatLineMm;
    return out;
}

TextItem text(const std::string& said, double sizePt, bool isBold = false, Colour colour = kInk) {
    TextItem out;
    out.text = said, out.sizePt = sizePt, out.isBold = isBold, out.colour = colour;
    return out;
}

// However many lines it has, its last one stands on what is below.
TextItem lowTitle(double sizePt) {
    TextItem out = text("{project}", sizePt, true);
    out.upright = Upright::Bottom;
    return out;
}

LegendItem legend(Id panel, int columns, double sizePt = 7.5) {
    LegendItem out;
    out.panel = panel, out.columns = columns, out.sizePt = sizePt;
    return out;
}

ScaleBarItem bar(Id panel) {
    ScaleBarItem out;
    out.panel = panel;
    return out;
}

NorthArrowItem arrow(Id panel) {
    NorthArrowItem out;
    out.panel = panel;
    return out;
}

CreditsItem credits(Align align) {
    CreditsItem out;
    out.align = align;
    return out;
}

double marginOf(double width, double height) {
    return std::max(8.0, std::min(width, height) * 0.05);
}

TemplateItems empty(double, double, const MapView&, const std::string&) { return {}; }

// A map over a foot of title, legend and scale.
TemplateItems foot(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = marginOf(w, h), foot = std::clamp(h * 0.21, 34.0, 62.0);
    const double width = w - 2 * margin, top = h - margin - foot;
    return {item("Title", {margin, top + 1, width * 0.75, 9}, text("{project}", 18, true)),
            item("Subtitle", {margin, top + 10.5, width * 0.75, 5},
                 text("{crs} · {scale}", 8, false, kMuted)),
            item("Key", {margin, top + 19, width * 0.62, foot - 19}, legend(7, 3)),
            item("Scale", {margin + width * 0.66, top + 19, width * 0.34, 9}, bar(7)),
            item("North", {margin + width - 9, top + 2, 9, 13}, arrow(7)),
            item("Sources", {margin + width * 0.64, h - margin - 6, width * 0.36, 6},
                 credits(Align::Right)),
            panel("Main map", {margin, margin + 5, width, h - 2 * margin - foot - 7}, view, crs)};
}

// A figure for a report: all of the page is map, what explains it lies in its corners.
TemplateItems figure(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = std::clamp(std::min(w, h) * 0.02, 2.0, 5.0), credit = 4.5;
    const double width = w - 2 * margin, height = h - 2 * margin - credit;
    const double keyWidth = std::min(width * 0.4, 58.0), keyHeight = std::min(height * 0.36, 52.0);
    SheetItem key = item("Key", {margin + 2, margin + height - keyHeight - 2, keyWidth, keyHeight},
                         legend(5, 1, 6.5));
    key.hasBackground = true, key.paddingMm = 2, key.opacity = 0.93;
    SheetItem scale = item("Scale", {margin + width - 62, margin + height - 11, 60, 9}, bar(5));
    scale.hasBackground = true, scale.opacity = 0.93;
    TemplateItems out{key, scale, item("North", {margin + width - 11, margin + 2, 9, 13}, arrow(5)),
                      item("Sources", {margin, h - margin - credit + 0.8, width, credit - 0.8},
                           credits(Align::Right)),
                      panel("Map", {margin, margin, width, height}, view, crs)};
    out.back().as<MapPanel>()->hasTicks = false;
    return out;
}

// A map with all that explains it in a column beside it.
TemplateItems column(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = marginOf(w, h) * 0.8, side = std::clamp(w * 0.22, 52.0, 110.0);
    const double left = w - margin - side + 9, width = side - 9;
    return {
        item("Title", {left, margin, width, 20}, lowTitle(20)),
        item("Subtitle", {left, margin + 23, width, 10}, text("{scale}\n{crs}", 8, false, kMuted)),
        item("Key", {left, margin + 40, width, h - 2 * margin - 40 - 44}, legend(8, 1, 8)),
        item("North", {left, h - margin - 40, 10, 15}, arrow(8)),
        item("Scale", {left - 2, h - margin - 22, width + 2, 10}, bar(8)),
        item("Date", {left, h - margin - 11, width, 4}, text("{date}", 6.5, false, kMuted)),
        item("Sources", {left, h - margin - 6, width, 6}, credits(Align::Left)),
        panel("Main map", {margin + 4, margin + 4, w - 2 * margin - side - 4, h - 2 * margin - 4},
              view, crs)};
}

// An upright page, a small map of the surroundings in a corner of the large one.
TemplateItems inset(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = marginOf(w, h), width = w - 2 * margin;
    const double head = 20, foot = std::clamp(h * 0.19, 40.0, 90.0);
    const double mapTop = margin + head, mapHeight = h - 2 * margin - head - foot;
    const double small = std::clamp(width * 0.28, 30.0, 80.0), footTop = mapTop + mapHeight + 5;
    TemplateItems out{
        item("Title", {margin, margin, width, 9}, text("{project}", 18, true)),
        item("Subtitle", {margin, margin + 10, width, 5},
             text("{crs} · {scale}", 8, false, kMuted)),
        item("Key", {margin, footTop, width * 0.64, foot - 6}, legend(8, 2)),
        item("Scale", {margin + width * 0.66, footTop, width * 0.34, 9}, bar(8)),
        item("North", {margin + width - 9, footTop + 12, 9, 13}, arrow(8)),
        item("Sources", {margin + width * 0.66, h - margin - 5, width * 0.34, 5},
             credits(Align::Right)),
        panel("Surroundings", {margin + width - small - 2, mapTop + 2, small, small}, view, crs),
        panel("Main map", {margin, mapTop, width, mapHeight}, view, crs)};
    MapPanel& around = *out[6].as<MapPanel>();
    around.scale *= 12, around.hasTicks = false;
    out[6].hasBackground = true;
    // The large map is outlined in the small one.
    out[7].as<MapPanel>()->shownIn = 7;
    return out;
}

// Two maps of one place side by side.
TemplateItems pair(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = marginOf(w, h), gap = 6, width = w - 2 * margin;
    const double half = (width - gap) / 2, head = 20, foot = 30;
    const double top = margin + head + 6, height = h - 2 * margin - head - foot - 6;
    TemplateItems out{
        item("Title", {margin, margin, width, 9}, text("{project}", 18, true)),
        item("Subtitle", {margin, margin + 10, width, 5},
             text("{crs} · {scale}", 8, false, kMuted)),
        item("Left name", {margin, margin + head, half, 5}, text("Left", 9, true)),
        item("Right name", {margin + half + gap, margin + head, half, 5}, text("Right", 9, true)),
        item("Key", {margin, top + height + 4, width * 0.62, foot - 4}, legend(9, 3)),
        item("Scale", {margin + width * 0.66, top + height + 4, width * 0.34, 9}, bar(9)),
        item("Sources", {margin + width * 0.6, h - margin - 5, width * 0.4, 5},
             credits(Align::Right)),
        panel("Right map", {margin + half + gap, top, half, height}, view, crs),
        panel("Left map", {margin, top, half, height}, view, crs)};
    out[7].as<MapPanel>()->hasTicks = out[8].as<MapPanel>()->hasTicks = false;
    return out;
}

// For a wall: type is read from two metres away.
TemplateItems poster(double w, double h, const MapView& view, const std::string& crs) {
    const double margin = std::min(w, h) * 0.045, width = w - 2 * margin;
    const double unit = std::min(w, h) / 594;  // of an A1
    const double head = 62 * unit, foot = 120 * unit;
    const double mapTop = margin + head, mapHeight = h - 2 * margin - head - foot;
    const double footTop = mapTop + mapHeight + 12 * unit;
    TemplateItems out{
        item("Title", {margin, margin, width, 30 * unit}, text("{project}", 64 * unit, true)),
        item("Subtitle", {margin, margin + 32 * unit, width, 14 * unit},
             text("{scale} · {crs}", 24 * unit, false, kMuted)),
        item("Key", {margin, footTop, width * 0.64, foot - 14 * unit},
             legend(7, 4, std::max(7.0, 18 * unit))),
        item("Scale", {margin + width * 0.68, footTop, width * 0.32, 24 * unit}, bar(7)),
        item("North", {margin + width - 24 * unit, footTop + 28 * unit, 24 * unit, 36 * unit},
             arrow(7)),
        item("Sources", {margin + width * 0.6, h - margin - 12 * unit, width * 0.4, 12 * unit},
             credits(Align::Right)),
        panel("Main map", {margin, mapTop, width, mapHeight}, view, crs)};
    out[3].as<ScaleBarItem>()->sizePt = std::max(7.0, 16 * unit);
    out[5].as<CreditsItem>()->sizePt = std::max(6.0, 10 * unit);
    out[6].frameMm = std::max(kNeatLineMm, 0.6 * unit);
    return out;
}

constexpr std::array kTemplates{
    SheetTemplate{"map and foot", "A map over title, legend and scale", 297, 210, foot},
    SheetTemplate{"report figure", "A square map that explains itself, for a text", 152.4, 152.4,
                  figure},
    SheetTemplate{"side column", "A map with a column beside it", 420, 297, column},
    SheetTemplate{"portrait with inset", "An upright map with its surroundings", 210, 297, inset},
    SheetTemplate{"two side by side", "Two maps of one place", 297, 210, pair},
    SheetTemplate{"poster", "Type that is read from two metres away", 594, 841, poster},
    SheetTemplate{"empty", "Nothing but the page", 210, 297, empty},
};
}  // namespace

std::span<const SheetTemplate> sheetTemplates() { return kTemplates; }

const SheetTemplate* sheetTemplate(std::string_view name) {
    for (const SheetTemplate& one : kTemplates)
        if (one.name == name) return &one;
    return nullptr;
}

}  // namespace ledge::doc
