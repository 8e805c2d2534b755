#pragma once
#include "document/json/described_names.h"

/// The members of symbols and styles.
namespace ledge::doc {

LEDGE_DESCRIBED(Look) {
    // All of them, always: looks of categories and rules take what is missing from the style's own.
    a.paint("fill", s.hasFill, s.fill);
    a.paint("stroke", s.hasStroke, s.stroke);
    a("stroke_mm", s.strokeMm);
    a("dash", s.dash);
    a("dashes_mm", s.dashesMm);
    a("cap", s.cap);
    a("join", s.join);
    a("offset_mm", s.offsetMm, Between{-50, 50});
    a("casing_mm", s.casingMm, Between{0, 20});
    a("casing", s.casing);
    a("along", s.along);
    a("along_mm", s.alongMm, Between{0.5, 1000});
    a("pattern", s.pattern);
    a("pattern_ink", s.patternInk);
    a("pattern_mm", s.patternMm, Between{0.2, 100});
    a("pattern_line_mm", s.patternLineMm, Between{0.01, 20});
    a("pattern_turn", s.patternTurn);
    a("mark", s.mark);
    a("mark_mm", s.markMm);
    a("mark_turn", s.markTurn);
    a("mark_picture", s.markPicture);
    a("mark_text", s.markText);
    a("mark_font", s.markFont);
    a("pattern_picture", s.patternPicture);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading) {
            // Ink and gaps are lengths, and together more than nothing.
            double sum = 0;
            for (double& mm : s.dashesMm) sum += mm = std::clamp(mm, 0.0, 1000.0);
            if (s.dashesMm.size() % 2 != 0 || sum < 0.05) s.dashesMm.clear();
        }
    });
}
LEDGE_DESCRIBED(Category) {
    a("value", s.value);
    a("label", s.label);
    a("look", s.look);
    a.sparse("more", s.more);
    a("shown", s.isShown);
}
LEDGE_DESCRIBED(NumberFormat) {
    a("decimals", s.decimals);
    a("groups", s.groupsThousands);
}
LEDGE_DESCRIBED(NumberClass) {
    a("label", s.label);
    a("look", s.look);
    a("shown", s.isShown);
}
LEDGE_DESCRIBED(ClassRule) {
    a("method", s.method);
    a("breaks", s.breaks);
    a("low", s.low);
    a("high", s.high);
    a("family", s.family);
    a("flipped", s.isFlipped);
    a("classes", s.classes);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading) {
            std::sort(s.breaks.begin(), s.breaks.end());
            if (!s.classes.empty() || !s.breaks.empty()) s.classes.resize(s.breaks.size() + 1);
        }
    });
}
LEDGE_DESCRIBED(SizeRule) {
    a("largest_mm", s.largestMm, Between{0.1, 200});
    a("smallest_mm", s.smallestMm, Between{0, 200});
    a("high", s.high);
    a("by_area", s.isByArea);
    a("perceptual", s.isPerceptual);
    a.sparse("classed", s.isClassed);
}
LEDGE_DESCRIBED(DotField) {
    a("field", s.field);
    a("colour", s.colour);
}
LEDGE_DESCRIBED(DotRule) {
    a("fields", s.fields);
    a("each", s.each, kAtLeastZero);
    a("dot_mm", s.dotMm, Between{0.05, 20});
    a("seed", s.seed);
    a.sparse("outside", s.outside);
}
LEDGE_DESCRIBED(StyleRule) {
    a("label", s.label);
    a("keep", s.keep);
    a("look", s.look);
    a("widest_scale", s.widestScale, kAtLeastZero);
    a("closest_scale", s.closestScale, kAtLeastZero);
    a("shown", s.isShown);
}
LEDGE_DESCRIBED(VectorStyle) {
    a("classing", s.classing);
    a("look", s.look);
    a.sparse("field", s.field);
    a.sparse("per", s.per);
    a.list("categories", s.categories, Category{"", "", s.look});
    a("others", s.others);
    a("shows_others", s.showsOthers);
    a.sparse("ramp", s.ramp);
    a.sparse("classes", s.classes);
    a.sparse("sizes", s.sizes);
    a.sparse("dots", s.dots);
    a.list("rules", s.rules, StyleRule{"", "", s.look});
    a("outlines", s.hasOutlines);
    a.sparse("turn_by", s.turnBy);
    a.sparse("on_ground", s.isOnGround);
    a("missing", s.missing);
    a("numbers", s.numbers);
}
LEDGE_DESCRIBED(LabelPin) {
    a("key", s.key);
    a.sparse("hidden", s.isHidden);
    a.sparse("placed", s.isPlaced);
    a.sparse("right_mm", s.rightMm, Between{-1000, 1000});
    a.sparse("down_mm", s.downMm, Between{-1000, 1000});
    a.sparse("turn", s.turn);
    a.sparse("scale", s.scale, kAtLeastZero);
    a.sparse("text", s.text);
    a.sparse("size_pt", s.sizePt, Between{0, 500});
    a.sparse("colour", s.colour);
}
LEDGE_DESCRIBED(LabelStyle) {
    a.sparse("name", s.name);
    a("on", s.isOn);
    a("text", s.text);
    a.sparse("keep", s.keep);
    a("rank", s.rank);
    a.sparse("font", s.font);
    a("size_pt", s.sizePt, Between{0.5, 500});
    a("colour", s.colour);
    a("italic", s.isItalic);
    a("bold", s.isBold);
    a("halo", s.hasHalo);
    a.usually("halo_colour", s.halo, Colour{250, 250, 252, 178});
    a.usually("halo_mm", s.haloMm, 0.35, Between{0, 10});
    a("capitals", s.isUpper);
    a("has_background", s.hasBackground);
    a("background", s.background);
    a("letter_spacing", s.letterSpacing, Between{-0.5, 10});
    a("line_spacing", s.lineSpacing, Between{0.5, 5});
    a("wrap_at", s.wrapAt, Between{0, 1000});
    a("numbers", s.numbers);
    a("on_lines", s.onLines);
    a("in_areas", s.inAreas);
    a("repeat_mm", s.repeatMm, Between{5, 100000});
    a("widest_scale", s.widestScale, kAtLeastZero);
    a("closest_scale", s.closestScale, kAtLeastZero);
    a.sparse("pins", s.pins);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading) sortPins(s.pins);
    });
}
LEDGE_DESCRIBED(ImageStyle) {
    a("bands", s.bands, kAtLeastZero);
    a("stretch", s.stretch);
    a("trim_percent", s.trimPercent, Between{0, 49});
    a("spread_deviations", s.spreadDeviations, Between{0.1, 20});
    a("of_view", s.isOfView);
    a("limits", s.limits);
    a("gamma", s.gamma, Between{0.1, 10});
}
LEDGE_DESCRIBED(RasterClass) {
    a("value", s.value);
    a("name", s.name);
    a("colour", s.colour);
    a("shown", s.isShown);
    a("count", s.count);
    a.sparse("numbers", s.numbers);
}
LEDGE_DESCRIBED(ClassColumn) {
    a("name", s.name);
    a("formula", s.formula);
}
LEDGE_DESCRIBED(ClassTable) {
    a("columns", s.columns);
    a("hidden", s.hidden);
    a("area_unit", s.areaUnit, Between{0, 3});
}
LEDGE_DESCRIBED(RasterStyle) {
    a("family", s.family);
    a("ramp", s.ramp);
    a("numbers", s.numbers);
    a("band", s.band, kAtLeastZero);
    a.sparse("spread", s.spread);
    a.usually("method", s.method, classify::Method::Equal);
    a.usually("step_count", s.stepCount, 5, Between{2, 100});
    a.sparse("shared_ramp", s.sharedRamp);
    a.sparse("shows_cells", s.showsCells);
    a.sparse("image", s.image);
    a.list("classes", s.classes, RasterClass{});
    a.sparse("class_table", s.classTable);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading)
            for (RasterClass& c : s.classes) c.numbers.resize(s.classTable.columns.size());
    });
}
LEDGE_DESCRIBED(TintStyle) {
    a("family", s.family);
    a("ramp", s.ramp);
    a("numbers", s.numbers);
}
LEDGE_DESCRIBED(terrain::Light) {
    a("azimuth", s.azimuth);
    a("altitude", s.altitude, Between{0, 90});
}
LEDGE_DESCRIBED(HillshadeStyle) {
    a("lights", s.lights);
    a.numberOr("height_scale", s.heightScale, "auto");
    a("gradient", s.gradient);
    a("cast_shadows", s.hasShadows);
    a("kept_lights", s.kept);
    a("shade", s.shade);
    a("highlight", s.highlight);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading)
            if (s.lights.empty()) s.lights.push_back({});
    });
}
LEDGE_DESCRIBED(SteepnessStyle) {
    a("ramp", s.ramp);
    a.numberOr("height_scale", s.heightScale, "auto");
    a("gradient", s.gradient);
}
LEDGE_DESCRIBED(ContourStyle) {
    a("interval", s.levels.interval);
    a("base", s.levels.base);
    a.sparse("thins", s.thins);
    a.sparse("levels", s.levels.listed);
    a("index_every", s.indexEvery);
    a("smoothing", s.smoothing, Between{0, 8});
    a("land", s.land);
    a("water", s.water);
    a("line_mm", s.lineMm);
    a("index_mm", s.indexMm);
    a("labels", s.hasLabels);
    a("label_pt", s.labelPt);
}
LEDGE_DESCRIBED(GridStyle) {
    a.either("lines", s.isGraticule, "graticule", "grid");
    a("crs", s.crs);
    a("interval", s.interval, kAtLeastZero);
    a("colour", s.colour);
    a("line_mm", s.lineMm);
    a("labels", s.hasLabels);
    a("label_pt", s.labelPt);
    a.sparse("outline", s.hasOutline);
    a("outline_mm", s.outlineMm, kAtLeastZero);
    a.sparse("has_sea", s.hasSea);
    a("sea", s.sea);
}

}  // namespace ledge::doc
