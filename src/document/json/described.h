#pragma once
#include "document/json/archive.h"
#include "document/kinds.h"
#include "document/label_pins.h"

/// The members of every struct of a project, each named once. A new member is a line here; a new
/// kind is its describe(). What a file lacks keeps the struct's own default.
namespace ledge::doc {

template <>
inline constexpr std::array<const char*, 4> kNames<Dash>{"solid", "dashes", "dots", "dash-dot"};
template <>
inline constexpr std::array<const char*, 4> kNames<Cap>{"usual", "round", "flat", "square"};
template <>
inline constexpr std::array<const char*, 3> kNames<Join>{"round", "mitre", "bevel"};
template <>
inline constexpr std::array<const char*, 10> kNames<Mark>{
    "circle", "square", "triangle", "diamond", "pentagon",
    "star",   "plus",   "cross",    "drop",    "needle"};
template <>
inline constexpr std::array<const char*, 6> kNames<Pattern>{"plain", "hatch",   "cross hatch",
                                                            "dots",  "crosses", "pictures"};
template <>
inline constexpr std::array<const char*, 3> kNames<Spread>{"even", "logarithmic", "steps"};
template <>
inline constexpr std::array<const char*, 3> kNames<GridForm>{"lines", "crosses", "ticks"};
template <>
inline constexpr std::array<const char*, 3> kNames<Upright>{"top", "middle", "bottom"};
template <>
inline constexpr std::array<const char*, 4> kNames<BarForm>{"hairline", "blocks", "steps", "rail"};
template <>
inline constexpr std::array<const char*, 4> kNames<ArrowDesign>{"plain", "split", "ring", "slim"};
template <>
inline constexpr std::array<const char*, 4> kNames<North>{"usual", "true", "grid", "typed"};
template <>
inline constexpr std::array<const char*, 4> kNames<ShapeForm>{"rectangle", "ellipse", "polygon",
                                                              "line"};
template <>
inline constexpr std::array<const char*, 2> kNames<ChartForm>{"histogram", "bars"};
template <>
inline constexpr std::array<const char*, 4> kNames<Side>{"left", "top", "right", "bottom"};
template <>
inline constexpr std::array<const char*, 5> kNames<SeriesOver>{"nothing", "features", "fields",
                                                               "layers", "views"};
template <>
inline constexpr std::array<const char*, 4> kNames<Along>{"nothing", "arrows", "marks", "ticks"};
template <>
inline constexpr std::array<const char*, 7> kNames<Classing>{
    "single", "categories", "ramp", "classes", "sized", "dots", "rules"};
template <>
inline constexpr std::array<const char*, 7> kNames<classify::Method>{
    "natural", "quantile", "equal", "round", "geometric", "stddev", "own"};
template <>
inline constexpr std::array<const char*, 3> kNames<LinePlace>{"above", "on", "below"};
template <>
inline constexpr std::array<const char*, 3> kNames<AreaPlace>{"inside", "along", "outside"};
template <>
inline constexpr std::array<const char*, 4> kNames<Stretch>{"full", "trimmed", "spread", "stored"};
template <>
inline constexpr std::array<const char*, 4> kNames<GeometryType>{"none", "point", "line",
                                                                 "polygon"};
template <>
inline constexpr std::array<const char*, 7> kNames<FieldType>{
    "text", "integer", "real", "boolean", "date", "time stamp", "bytes"};
template <>
inline constexpr std::array<const char*, 2> kNames<HeightUnit>{"metre", "foot"};
template <>
inline constexpr std::array<const char*, 3> kNames<CoordinateForm>{
    "map units", "degrees, minutes, seconds", "decimal degrees"};
template <>
inline constexpr std::array<const char*, 4> kNames<LengthUnit>{"metric", "feet", "US survey feet",
                                                               "nautical miles"};
template <>
inline constexpr std::array<const char*, 2> kNames<terrain::GradientMethod>{"horn",
                                                                            "zevenbergen-thorne"};
template <>
inline constexpr std::array<const char*, 3> kNames<Align>{kAlignNames};
template <>
inline constexpr std::array<const char*, 5> kNames<DateForm>{"iso", "dotted", "named",
                                                             "month and year", "year"};
template <>
inline constexpr std::array<const char*, 5> kNames<Blend>{"normal", "multiply", "screen", "overlay",
                                                          "soft light"};

#define LEDGE_DESCRIBED(T)                                                                         \
    template <>                                                                                    \
    struct IsDescribed<T> : std::true_type {};                                                     \
    inline void describe(auto& a, Is<T> auto& s)

// Symbols and styles.

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

// Layers: what each kind has beside what all have.

LEDGE_DESCRIBED(Group) {
    a("folded", s.isFolded);
    a("layers", s.children);
}
LEDGE_DESCRIBED(ColumnLook) {
    a("field", s.field);
    a.sparse("hidden", s.isHidden);
    a.sparse("placed", s.isPlaced);
    a.sparse("frozen", s.isFrozen);
    a.sparse("percent", s.isPercent);
    a.sparse("unit", s.unit);
    a("numbers", s.numbers);
    a.sparse("dates", s.dates);
}
LEDGE_DESCRIBED(VectorLayer) {
    a("geometry", s.geometry);
    a.sparse("filter", s.filter);
    a.sparse("columns", s.columns);
    a("style", s.style);
    a("labels", s.labels);
    a("keeps_labels_off", s.keepsLabelsOff, Between{0, 100});
}
LEDGE_DESCRIBED(RasterLayer) { a("style", s.style); }
LEDGE_DESCRIBED(HeightTint) { a("style", s.style); }
LEDGE_DESCRIBED(Hillshade) { a("style", s.style); }
LEDGE_DESCRIBED(Steepness) { a("style", s.style); }
LEDGE_DESCRIBED(Contours) { a("style", s.style); }
LEDGE_DESCRIBED(GridLines) { a("style", s.style); }
LEDGE_DESCRIBED(UnknownLayer) { (void)a, (void)s; }  // its members are kept as they were
LEDGE_DESCRIBED(Layer) {
    a.required("id", s.id);
    a.kind("kind", s.content, "vector");
    a("name", s.name);
    a("visible", s.isVisible);
    a("opacity", s.opacity, Between{0, 1});
    a("blend", s.blend);
    a.sparse("source", s.source);
    a.sparse("widest_scale", s.widestScale, kAtLeastZero);
    a.sparse("closest_scale", s.closestScale, kAtLeastZero);
    a.membersOf(s.content);
}

// Sheets.

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

// Edits of tables.

LEDGE_DESCRIBED(Field) {
    a("name", s.name);
    a("type", s.type);
}
LEDGE_DESCRIBED(CellEdit) {
    a("row", s.key);
    a("field", s.field);
    a.sparse("value", s.value);
}
LEDGE_DESCRIBED(GeometryEdit) {
    a("row", s.key);
    a("shape", s.geometry);
}
LEDGE_DESCRIBED(RowAdded) {
    a("row", s.key);
    a("shape", s.geometry);
}
LEDGE_DESCRIBED(RowRemoved) { a("row", s.key); }
LEDGE_DESCRIBED(ColumnAdded) { a("field", s.field); }
LEDGE_DESCRIBED(ColumnRemoved) { a("field", s.name); }
LEDGE_DESCRIBED(ColumnNamed) {
    a("field", s.from);
    a("name", s.to);
}
LEDGE_DESCRIBED(ColumnComputed) {
    a("field", s.name);
    a("formula", s.formula);
    a.sparse("rows", s.rows);
    a.sparse("live", s.isLive);
}

// Sources and what was derived from what.

LEDGE_DESCRIBED(ShiftGrid) {
    a.required("path", s.path);
    a("target", s.target);
}
LEDGE_DESCRIBED(Reading) {
    a.sparse("encoding", s.encoding);
    a.sparse("delimiter", s.delimiter);
    a.sparse("decimal_sign", s.decimalSign);
    a.sparse("header", s.hasHeader);
}
LEDGE_DESCRIBED(LineageInput) {
    if (a.has("address", !s.address.empty()))
        a("address", s.address);
    else
        a.required("path", s.path);
    a("height_unit", s.heightUnit);
    a("bytes", s.stamp.bytes);
    a("modified_ms", s.stamp.modifiedMs);
    a.sparse("name", s.name);
    a.sparse("layer", s.layer);
    a.sparse("reading", s.reading);
    a.sparse("band", s.band, kAtLeastZero);
    a.sparse("declared_crs", s.declaredCrs);
    a.sparse("shift_grid", s.shiftGrid);
}
LEDGE_DESCRIBED(Lineage) {
    a("operation", s.operation);
    a("inputs", s.inputs);
    a("parameters", s.parameters);
    a.sparse("remarks", s.remarks);
}
LEDGE_DESCRIBED(SourceRef) {
    a.required("id", s.id);
    a("name", s.name);
    // A live source is no file, nor is a service.
    if (a.has("lineage", s.lineage.has_value()) || a.has("address", !s.address.empty()))
        a.sparse("path", s.path);
    else
        a.required("path", s.path);
    a.sparse("address", s.address);
    a.sparse("layer", s.layer);
    a.sparse("reading", s.reading);
    a.sparse("declared_crs", s.declaredCrs);
    a.sparse("shift_grid", s.shiftGrid);
    a("height_unit", s.heightUnit);
    a.sparse("credit", s.credit);
    a.sparse("lineage", s.lineage);
    a.sparse("edits", s.edits);
}

// The project.

LEDGE_DESCRIBED(MapView) {
    a.required("centre", s.centre);
    a.required("scale", s.scale);
    a("rotation", s.rotation);
    a.then([&] {
        if constexpr (std::remove_reference_t<decltype(a)>::isReading)
            if (!(s.scale > 0)) s.scale = MapView{}.scale;
    });
}
LEDGE_DESCRIBED(SavedView) {
    a.required("id", s.id);
    a("name", s.name);
    describe(a, s.view);
    a("dark", s.dark);
}
LEDGE_DESCRIBED(SavedProfile) {
    a.required("id", s.id);
    a("name", s.name);
    a("crs", s.crs);
    a("line", s.line);
    a("sources", s.sources);
}
LEDGE_DESCRIBED(SavedQuestion) {
    a.required("id", s.id);
    a("name", s.name);
    a("layer", s.layer);
    a("keep", s.keep);
    a.sparse("near", s.near);
    a.sparse("relation", s.relation);
    a.sparse("near_keep", s.nearKeep);
    a.sparse("within_metres", s.withinMetres, kAtLeastZero);
}
LEDGE_DESCRIBED(CustomCrs) {
    a("name", s.name);
    a("wkt", s.wkt);
}
LEDGE_DESCRIBED(crs::DatumChoice) {
    a("one", s.one);
    a("other", s.other);
    a("operation", s.operation);
}
LEDGE_DESCRIBED(Display) {
    a("coordinates", s.coordinates);
    a("lengths", s.lengths);
}
LEDGE_DESCRIBED(Document) {
    a("name", s.name);
    a.sparse("author", s.author);
    a("map_crs", s.mapCrs);
    a("sources", s.sources);
    a("layers", s.layers);
    a("views", s.views);
    a("profiles", s.profiles);
    a.sparse("questions", s.questions);
    a("light_prefix", s.lightPrefix);
    a("sheets", s.sheets);
    a("custom_crs", s.customCrs);
    a("datum_operations", s.datumChoices);
    a("display", s.display);
    a("last_view", s.lastView);
}

#undef LEDGE_DESCRIBED

/// The value of an enumeration by its name; the first for others.
template <typename E>
E named(const std::string& word) {
    for (std::size_t i = 0; i < kNames<E>.size(); ++i)
        if (word == kNames<E>[i]) return static_cast<E>(i);
    return {};
}

// What edits of tables are called, in the order of TableEdit.
inline constexpr std::array<const char*, 8> kTableEditNames{
    "cell",         "geometry",       "row added",    "row removed",
    "column added", "column removed", "column named", "column computed"};
static_assert(kTableEditNames.size() == std::variant_size_v<TableEdit>);

// What kinds are called, and an empty one of a name.

inline std::string kindName(const LayerContent& content) {
    if (const auto* unknown = std::get_if<UnknownLayer>(&content)) return unknown->kind;
    return std::visit([]<typename T>(const T&) { return std::string(kLayerKind<T>.name); },
                      content);
}
inline std::string kindName(const SheetContent& content) {
    if (const auto* unknown = std::get_if<UnknownItem>(&content)) return unknown->kind;
    return std::visit([]<typename T>(const T&) { return std::string(kItemKind<T>.name); }, content);
}
template <>
inline LayerContent contentNamed<LayerContent>(const std::string& name) {
    LayerContent out = UnknownLayer{name};
    forLayerKind(name, [&out](auto content) { out = std::move(content); });
    return out;
}
template <>
inline SheetContent contentNamed<SheetContent>(const std::string& name) {
    SheetContent out = UnknownItem{name};
    forItemKind(name, [&out](auto content) { out = std::move(content); });
    return out;
}

}  // namespace ledge::doc
