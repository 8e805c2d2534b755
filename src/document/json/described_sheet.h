#pragma once
#include "document/json/described_layers.h"

/// The members of sheets and their items.
namespace ledge::doc {

LEDGE_DESCRIBED(PanelGrid) {
    a("style", s.style);
    a("form", s.form);
    a("values", s.hasValues);
}
LEDGE_DESCRIBED(MapPanel) {
    a.required("centre", s.centre);
    a("scale", s.scale);
    a("rotation", s.rotation);
    a("crs", s.crs);
    a("ticks", s.hasTicks);
    a.sparse("kept_layers", s.frozen);
    a.sparse("lit", s.lit);
    a.sparse("follows", s.follows);
    a.sparse("grids", s.grids);
    a.sparse("shown_in", s.shownIn);
    a.usually("outline", s.outline, MapPanel().outline);
    a.sparse("leaders", s.hasLeaders);
    a.sparse("shaped_by", s.shapedBy);
}
LEDGE_DESCRIBED(TextItem) {
    a("text", s.text);
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a("bold", s.isBold);
    a("italic", s.isItalic);
    a("colour", s.colour);
    a("align", s.align);
    a.sparse("upright", s.upright);
    a.usually("line_spacing", s.lineSpacing, 1.3, Between{0.5, 5});
    a.sparse("font", s.font);
}
LEDGE_DESCRIBED(LegendItem) {
    a("panel", s.panel);
    a("columns", s.columns, Between{1, 12});
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a("title", s.title);
    a.sparse("names", s.names);
    a.sparse("left_out", s.left_out);
    a.sparse("order", s.order);
    a.sparse("of_view", s.isOfView);
    a.sparse("groups", s.hasGroups);
    a.usually("patch_mm", s.patchMm, 7.0, Between{1, 100});
    a.usually("fits", s.fits, true);
    a.sparse("font", s.font);
}
LEDGE_DESCRIBED(ScaleBarItem) {
    a("panel", s.panel);
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a.sparse("form", s.form);
    a.sparse("length", s.length, kAtLeastZero);
    a.sparse("divisions", s.divisions, Between{0, 20});
    a.sparse("left_divisions", s.leftDivisions, Between{0, 20});
    a.sparse("unit", s.unit);
    a.sparse("second_unit", s.secondUnit);
}
LEDGE_DESCRIBED(NorthArrowItem) {
    a("panel", s.panel);
    a.sparse("design", s.design);
    a.sparse("north", s.north);
    a.sparse("degrees", s.degrees, Between{-360, 360});
}
LEDGE_DESCRIBED(CreditsItem) {
    a("added", s.added);
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a("align", s.align);
    a.sparse("wording", s.wording);
}
LEDGE_DESCRIBED(ProfileItem) {
    a("profile", s.profile);
    a("size_pt", s.sizePt, Between{0.5, 1000});
}
LEDGE_DESCRIBED(PictureItem) {
    a("file", s.file);
    a.usually("keeps_shape", s.keepsShape, true);
    a.usually("align", s.align, Align::Centre);
}
LEDGE_DESCRIBED(ShapeItem) {
    a("form", s.form);
    a.sparse("points", s.points);
    a.paint("fill", s.hasFill, s.fill);
    a.paint("stroke", s.hasStroke, s.stroke);
    a("stroke_mm", s.strokeMm, Between{0, 100});
    a.sparse("dash", s.dash);
    a.sparse("round_mm", s.roundMm, kAtLeastZero);
    a.sparse("head", s.hasHead);
    a.sparse("tail", s.hasTail);
}
LEDGE_DESCRIBED(TableItem) {
    a("layer", s.layer);
    a("fields", s.fields);
    a.sparse("keep", s.keep);
    a.sparse("sort_by", s.sortBy);
    a.sparse("descending", s.isDescending);
    a("most_rows", s.mostRows, Between{1, 10000});
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a.usually("head", s.hasHead, true);
    a.usually("lines", s.hasLines, true);
}
LEDGE_DESCRIBED(ChartItem) {
    a("layer", s.layer);
    a("form", s.form);
    a("field", s.field);
    a.sparse("names", s.names);
    a.usually("bins", s.bins, 20, Between{2, 500});
    a.usually("most_bars", s.mostBars, 12, Between{1, 200});
    a("size_pt", s.sizePt, Between{0.5, 1000});
    a.sparse("title", s.title);
    a("colour", s.colour);
}
LEDGE_DESCRIBED(UnknownItem) { (void)a, (void)s; }
LEDGE_DESCRIBED(ItemPin) {
    a("side", s.side);
    a.sparse("of", s.of);
    a("of_side", s.ofSide);
    a("mm", s.mm, Between{-10000, 10000});
}
LEDGE_DESCRIBED(SheetItem) {
    a.required("id", s.id);
    a.kind("kind", s.content, "text");
    a("name", s.name);
    a.required("rect_mm", s.rect);
    a.sparse("hidden", s.isHidden);
    a.sparse("locked", s.isLocked);
    a.sparse("frame_mm", s.frameMm, Between{0, 50});
    a.usually("frame", s.frame, SheetItem().frame);
    a.sparse("has_background", s.hasBackground);
    a.usually("background", s.background, SheetItem().background);
    a.sparse("padding_mm", s.paddingMm, Between{0, 500});
    a.sparse("corner_mm", s.cornerMm, Between{0, 500});
    a.usually("opacity", s.opacity, 1.0, Between{0, 1});
    a.sparse("turn", s.turn, Between{-360, 360});
    a.sparse("group", s.group, kAtLeastZero);
    a.sparse("pins", s.pins);
    a.membersOf(s.content);
}
LEDGE_DESCRIBED(Series) {
    a("over", s.over);
    a.sparse("panel", s.panel);
    a.sparse("layer", s.layer);
    a.sparse("keep", s.keep);
    a.sparse("sort_by", s.sortBy);
    a.sparse("naming", s.naming);
    a("margin_percent", s.marginPercent, Between{0, 200});
    a.sparse("scale", s.scale, kAtLeastZero);
    a.sparse("alone", s.isAlone);
    a.sparse("fields", s.fields);
    a.sparse("things", s.things);
    a.sparse("index_panel", s.indexPanel);
    a.sparse("filters", s.filters);
}
LEDGE_DESCRIBED(Sheet) {
    a.required("id", s.id);
    a("name", s.name);
    a.required("width_mm", s.widthMm);
    a.required("height_mm", s.heightMm);
    a.usually("margin_mm", s.marginMm, 8.0, Between{0, 1000});
    a.sparse("bleed_mm", s.bleedMm, Between{0, 50});
    a.sparse("guides_across", s.guidesAcross);
    a.sparse("guides_down", s.guidesDown);
    a.sparse("series", s.series);
    a("items", s.items);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading) {
            s.widthMm = std::clamp(s.widthMm, 10.0, 5000.0);
            s.heightMm = std::clamp(s.heightMm, 10.0, 5000.0);
        }
    });
}

}  // namespace ledge::doc
