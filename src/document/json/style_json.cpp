#include "document/json/style_json.h"

namespace ledge::doc {
namespace {
constexpr const char* kDashes[] = {"solid", "dashes", "dots", "dash-dot"};
constexpr const char* kMarks[] = {"circle", "square", "triangle", "diamond"};
constexpr const char* kClassings[] = {"single", "categories", "ramp"};

template <typename E, std::size_t N>
E enumFrom(const Json& json, const char* key, const char* const (&names)[N], E fallback) {
    const std::string name = json.value(key, "");
    for (std::size_t i = 0; i < N; ++i)
        if (name == names[i]) return static_cast<E>(i);
    return fallback;
}

Json lookJson(const Look& look) {
    return {{"fill", look.hasFill ? colourText(look.fill) : "none"},
            {"stroke", look.hasStroke ? colourText(look.stroke) : "none"},
            {"stroke_mm", look.strokeMm},
            {"dash", kDashes[static_cast<std::size_t>(look.dash)]},
            {"mark", kMarks[static_cast<std::size_t>(look.mark)]},
            {"mark_mm", look.markMm}};
}

Look lookFrom(const Json& parent, const char* key, const Look& fallback) {
    if (!parent.contains(key)) return fallback;
    const Json& json = parent.at(key);
    Look out = fallback;
    out.hasFill = json.value("fill", "") != "none";
    out.hasStroke = json.value("stroke", "") != "none";
    out.fill = colourFrom(json.value("fill", Json()), out.fill);
    out.stroke = colourFrom(json.value("stroke", Json()), out.stroke);
    out.strokeMm = json.value("stroke_mm", out.strokeMm);
    out.dash = enumFrom(json, "dash", kDashes, out.dash);
    out.mark = enumFrom(json, "mark", kMarks, out.mark);
    out.markMm = json.value("mark_mm", out.markMm);
    return out;
}

Json rampJson(const Ramp& ramp) {
    Json out = Json::array();
    for (const RampStop& stop : ramp.stops) out.push_back({stop.value, colourText(stop.colour)});
    return out;
}

Ramp rampFrom(const Json& parent, const char* key, const Ramp& fallback) {
    if (!parent.contains(key)) return fallback;
    Ramp out;
    for (const Json& stop : parent.at(key)) {
        const double value = stop.at(0).get<double>();
        if (!out.stops.empty() && !(value >= out.stops.back().value)) continue;
        out.stops.push_back({value, colourFrom(stop.at(1), {})});
    }
    return out;
}

Json numbersJson(const NumberFormat& format) {
    return {{"decimals", format.decimals}, {"groups", format.groupsThousands}};
}

NumberFormat numbersFrom(const Json& parent, const NumberFormat& fallback) {
    const Json json = parent.value("numbers", Json::object());
    return {json.value("decimals", fallback.decimals),
            json.value("groups", fallback.groupsThousands)};
}

Json heightScaleJson(const HeightScale& scale) { return scale ? Json(*scale) : Json("auto"); }

HeightScale heightScaleFrom(const Json& json) {
    const Json scale = json.value("height_scale", Json("auto"));
    return scale.is_number() ? HeightScale(scale.get<double>()) : HeightScale{};
}

terrain::GradientMethod gradientFrom(const Json& json, terrain::GradientMethod fallback) {
    const Json name = json.value("gradient", Json());
    if (!name.is_string()) return fallback;
    return terrain::gradientMethodOf(name.get<std::string>()).value_or(fallback);
}

// Rasters and height tints keep the same three things.
template <typename Style>
Json rampStyleJson(const Style& s) {
    return {{"family", s.family}, {"ramp", rampJson(s.ramp)}, {"numbers", numbersJson(s.numbers)}};
}
template <typename Style>
void readRampStyle(const Json& json, Style& s) {
    s.family = json.value("family", s.family);
    s.ramp = rampFrom(json, "ramp", s.ramp);
    s.numbers = numbersFrom(json, s.numbers);
}
}  // namespace

Colour colourFrom(const Json& json, Colour fallback) {
    if (!json.is_string()) return fallback;
    return parseColour(json.get<std::string>()).value_or(fallback);
}

Json styleJson(const VectorStyle& s) {
    Json out{{"classing", kClassings[static_cast<std::size_t>(s.classing)]},
             {"look", lookJson(s.look)}};
    if (!s.field.empty()) out["field"] = s.field;
    if (!s.categories.empty()) {
        Json list = Json::array();
        for (const Category& c : s.categories)
            list.push_back({{"value", c.value}, {"label", c.label}, {"look", lookJson(c.look)}});
        out["categories"] = std::move(list);
    }
    out["others"] = lookJson(s.others);
    if (!s.ramp.stops.empty()) out["ramp"] = rampJson(s.ramp);
    out["missing"] = lookJson(s.missing);
    out["numbers"] = numbersJson(s.numbers);
    return out;
}

void readStyle(const Json& json, VectorStyle& s) {
    s.classing = enumFrom(json, "classing", kClassings, s.classing);
    s.look = lookFrom(json, "look", s.look);
    s.field = json.value("field", "");
    for (const Json& c : json.value("categories", Json::array()))
        s.categories.push_back(
            {c.value("value", ""), c.value("label", ""), lookFrom(c, "look", s.look)});
    s.others = lookFrom(json, "others", s.others);
    s.ramp = rampFrom(json, "ramp", s.ramp);
    s.missing = lookFrom(json, "missing", s.missing);
    s.numbers = numbersFrom(json, s.numbers);
}

Json styleJson(const LabelStyle& s) {
    return {{"on", s.isOn},
            {"field", s.field},
            {"rank_field", s.rankField},
            {"size_pt", s.sizePt},
            {"colour", colourText(s.colour)},
            {"italic", s.isItalic},
            {"bold", s.isBold},
            {"halo", s.hasHalo},
            {"widest_scale", s.widestScale}};
}

void readStyle(const Json& json, LabelStyle& s) {
    s.isOn = json.value("on", s.isOn);
    s.field = json.value("field", s.field);
    s.rankField = json.value("rank_field", s.rankField);
    s.sizePt = json.value("size_pt", s.sizePt);
    s.colour = colourFrom(json.value("colour", Json()), s.colour);
    s.isItalic = json.value("italic", s.isItalic);
    s.isBold = json.value("bold", s.isBold);
    s.hasHalo = json.value("halo", s.hasHalo);
    s.widestScale = json.value("widest_scale", s.widestScale);
}

namespace {
constexpr const char* kStretches[] = {"full", "trimmed", "spread"};

Json imageJson(const ImageStyle& s) {
    Json limits = Json::array();
    for (const StretchLimits& l : s.limits) limits.push_back({l.low, l.high});
    return {{"bands", s.bands},
            {"stretch", kStretches[static_cast<std::size_t>(s.stretch)]},
            {"trim_percent", s.trimPercent},
            {"spread_deviations", s.spreadDeviations},
            {"of_view", s.isOfView},
            {"limits", std::move(limits)},
            {"gamma", s.gamma}};
}

ImageStyle imageFrom(const Json& json) {
    ImageStyle s;
    s.bands = json.value("bands", s.bands);
    for (int& band : s.bands) band = std::max(0, band);
    s.stretch = enumFrom(json, "stretch", kStretches, s.stretch);
    s.trimPercent = std::clamp(json.value("trim_percent", s.trimPercent), 0.0, 49.0);
    s.spreadDeviations = std::clamp(json.value("spread_deviations", s.spreadDeviations), 0.1, 20.0);
    s.isOfView = json.value("of_view", s.isOfView);
    s.gamma = std::clamp(json.value("gamma", s.gamma), 0.1, 10.0);
    const Json limits = json.value("limits", Json::array());
    for (std::size_t i = 0; i < s.limits.size() && i < limits.size(); ++i) {
        const StretchLimits l{limits[i].at(0).get<double>(), limits[i].at(1).get<double>()};
        if (l.high > l.low) s.limits[i] = l;
    }
    return s;
}

Json classesJson(const std::vector<RasterClass>& classes) {
    Json out = Json::array();
    for (const RasterClass& c : classes) {
        Json row{{"value", c.value},
                 {"name", c.name},
                 {"colour", colourText(c.colour)},
                 {"shown", c.isShown},
                 {"count", c.count}};
        for (const auto& number : c.numbers)
            row["numbers"].push_back(number ? Json(*number) : Json());
        out.push_back(std::move(row));
    }
    return out;
}

RasterClass classFrom(const Json& json) {
    RasterClass out{json.value("value", 0.0), json.value("name", ""),
                    colourFrom(json.value("colour", Json()), {}), json.value("shown", true),
                    json.value("count", std::int64_t{0})};
    for (const Json& number : json.value("numbers", Json::array()))
        out.numbers.push_back(number.is_number() ? std::optional(number.get<double>())
                                                 : std::nullopt);
    return out;
}

Json classTableJson(const ClassTable& table) {
    Json columns = Json::array();
    for (const ClassColumn& c : table.columns)
        columns.push_back({{"name", c.name}, {"formula", c.formula}});
    return {
        {"columns", std::move(columns)}, {"hidden", table.hidden}, {"area_unit", table.areaUnit}};
}

ClassTable classTableFrom(const Json& json) {
    ClassTable out;
    for (const Json& c : json.value("columns", Json::array()))
        out.columns.push_back({c.value("name", ""), c.value("formula", "")});
    out.hidden = json.value("hidden", out.hidden);
    out.areaUnit = std::clamp(json.value("area_unit", 0), 0, 3);
    return out;
}
}  // namespace

Json styleJson(const RasterStyle& s) {
    Json out = rampStyleJson(s);
    out["band"] = s.band;
    if (s.showsCells) out["shows_cells"] = true;
    if (s.image) out["image"] = imageJson(*s.image);
    if (!s.classes.empty()) {
        out["classes"] = classesJson(s.classes);
        out["class_table"] = classTableJson(s.classTable);
    }
    return out;
}
void readStyle(const Json& json, RasterStyle& s) {
    readRampStyle(json, s);
    s.band = std::max(0, json.value("band", 0));
    s.showsCells = json.value("shows_cells", false);
    if (json.contains("image")) s.image = imageFrom(json.at("image"));
    for (const Json& c : json.value("classes", Json::array())) s.classes.push_back(classFrom(c));
    s.classTable = classTableFrom(json.value("class_table", Json::object()));
    for (RasterClass& c : s.classes) c.numbers.resize(s.classTable.columns.size());
}

Json styleJson(const TintStyle& s) { return rampStyleJson(s); }
void readStyle(const Json& json, TintStyle& s) { readRampStyle(json, s); }

namespace {
Json lightsJson(const std::vector<terrain::Light>& lights) {
    Json out = Json::array();
    for (const terrain::Light& light : lights)
        out.push_back({{"azimuth", light.azimuth}, {"altitude", light.altitude}});
    return out;
}
std::vector<terrain::Light> lightsFrom(const Json& json) {
    std::vector<terrain::Light> out;
    for (const Json& light : json)
        out.push_back(
            {light.value("azimuth", 315.0), std::clamp(light.value("altitude", 45.0), 0.0, 90.0)});
    return out;
}
}  // namespace

Json styleJson(const HillshadeStyle& s) {
    return {
        {"lights", lightsJson(s.lights)},          {"height_scale", heightScaleJson(s.heightScale)},
        {"gradient", terrain::nameOf(s.gradient)}, {"cast_shadows", s.hasShadows},
        {"kept_lights", lightsJson(s.kept)},       {"shade", colourText(s.shade)},
        {"highlight", colourText(s.highlight)}};
}
void readStyle(const Json& json, HillshadeStyle& s) {
    if (json.contains("lights")) s.lights = lightsFrom(json.at("lights"));
    s.kept = lightsFrom(json.value("kept_lights", Json::array()));
    s.hasShadows = json.value("cast_shadows", s.hasShadows);
    if (s.lights.empty()) s.lights.push_back({});
    s.heightScale = heightScaleFrom(json);
    s.gradient = gradientFrom(json, s.gradient);
    s.shade = colourFrom(json.value("shade", Json()), s.shade);
    s.highlight = colourFrom(json.value("highlight", Json()), s.highlight);
}

Json styleJson(const SteepnessStyle& s) {
    return {{"ramp", rampJson(s.ramp)},
            {"height_scale", heightScaleJson(s.heightScale)},
            {"gradient", terrain::nameOf(s.gradient)}};
}
void readStyle(const Json& json, SteepnessStyle& s) {
    s.ramp = rampFrom(json, "ramp", s.ramp);
    s.heightScale = heightScaleFrom(json);
    s.gradient = gradientFrom(json, s.gradient);
}

Json styleJson(const ContourStyle& s) {
    Json out{{"interval", s.levels.interval}, {"base", s.levels.base}};
    if (!s.levels.listed.empty()) out["levels"] = s.levels.listed;
    out.update({{"index_every", s.indexEvery},
                {"smoothing", s.smoothing},
                {"land", colourText(s.land)},
                {"water", colourText(s.water)},
                {"line_mm", s.lineMm},
                {"index_mm", s.indexMm},
                {"labels", s.hasLabels},
                {"label_pt", s.labelPt}});
    return out;
}
void readStyle(const Json& json, ContourStyle& s) {
    s.levels.interval = json.value("interval", s.levels.interval);
    s.levels.base = json.value("base", s.levels.base);
    s.levels.listed = json.value("levels", s.levels.listed);
    s.indexEvery = json.value("index_every", s.indexEvery);
    s.smoothing = std::clamp(json.value("smoothing", s.smoothing), 0, 8);
    s.land = colourFrom(json.value("land", Json()), s.land);
    s.water = colourFrom(json.value("water", Json()), s.water);
    s.lineMm = json.value("line_mm", s.lineMm);
    s.indexMm = json.value("index_mm", s.indexMm);
    s.hasLabels = json.value("labels", s.hasLabels);
    s.labelPt = json.value("label_pt", s.labelPt);
}

Json styleJson(const GridStyle& s) {
    return {{"lines", s.isGraticule ? "graticule" : "grid"},
            {"crs", s.crs},
            {"interval", s.interval},
            {"colour", colourText(s.colour)},
            {"line_mm", s.lineMm},
            {"labels", s.hasLabels},
            {"label_pt", s.labelPt}};
}
void readStyle(const Json& json, GridStyle& s) {
    s.isGraticule = json.value("lines", "graticule") != std::string("grid");
    s.crs = json.value("crs", s.crs);
    s.interval = std::max(0.0, json.value("interval", s.interval));
    s.colour = colourFrom(json.value("colour", Json()), s.colour);
    s.lineMm = json.value("line_mm", s.lineMm);
    s.hasLabels = json.value("labels", s.hasLabels);
    s.labelPt = json.value("label_pt", s.labelPt);
}

}  // namespace ledge::doc
