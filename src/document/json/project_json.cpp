#include "document/json/project_json.h"

#include <algorithm>

#include "document/json/keep.h"
#include "document/json/sheet_json.h"
#include "document/kinds.h"

namespace ledge::doc {
namespace {
namespace fs = std::filesystem;
constexpr int kVersion = 1;
constexpr const char* kGeometries[] = {"none", "point", "line", "polygon"};
constexpr int kDeepest = 16;

struct ContentWriter {
    Json& out;
    void operator()(const Group& g) const {
        out["folded"] = g.isFolded;
        out["layers"] = layersJson(g.children);
    }
    void operator()(const VectorLayer& v) const {
        out["geometry"] = kGeometries[static_cast<std::size_t>(v.geometry)];
        out["style"] = styleJson(v.style);
        out["labels"] = styleJson(v.labels);
    }
    void operator()(const UnknownLayer&) const {}  // its members are kept as they were
    template <typename T>
    void operator()(const T& raster) const {
        out["style"] = styleJson(raster.style);
    }
};

// What a kind has beside what all layers have.
struct ContentReader {
    const Json& json;
    int depth = 0;
    void operator()(Group& g) const {
        g.isFolded = json.value("folded", false);
        g.children = layersFrom(json.value("layers", Json::array()), depth + 1);
    }
    void operator()(VectorLayer& v) const {
        readStyle(json.value("style", Json::object()), v.style);
        readStyle(json.value("labels", Json::object()), v.labels);
        const std::string type = json.value("geometry", "none");
        for (std::size_t i = 0; i < std::size(kGeometries); ++i)
            if (type == kGeometries[i]) v.geometry = static_cast<GeometryType>(i);
    }
    void operator()(UnknownLayer&) const {}
    template <typename T>
    void operator()(T& other) const {
        readStyle(json.value("style", Json::object()), other.style);
    }
};

LayerContent contentFrom(const Json& json, const std::string& kind, int depth) {
    LayerContent out = UnknownLayer{kind};
    forLayerKind(kind, [&](auto content) {
        ContentReader{json, depth}(content);
        out = std::move(content);
    });
    return out;
}

Json viewJson(const MapView& view) {
    return {{"centre", {view.centre.x, view.centre.y}},
            {"scale", view.scale},
            {"rotation", view.rotation}};
}

MapView viewFrom(const Json& json) {
    MapView view;
    view.centre = {json.at("centre").at(0).get<double>(), json.at("centre").at(1).get<double>()};
    view.scale = json.at("scale").get<double>();
    view.rotation = json.value("rotation", 0.0);
    if (!(view.scale > 0)) view.scale = 50000;
    return view;
}

std::string pathText(const fs::path& path, const fs::path& folder) {
    const fs::path relative = path.lexically_relative(folder);
    return (relative.empty() ? path : relative).generic_string();
}

const char* heightUnitText(HeightUnit unit) { return unit == HeightUnit::Foot ? "foot" : "metre"; }
HeightUnit heightUnitFrom(const Json& json) {
    return json.value("height_unit", "") == "foot" ? HeightUnit::Foot : HeightUnit::Metre;
}

fs::path pathFrom(const Json& json, const fs::path& folder) {
    return (folder / fs::path(json.at("path").get<std::string>())).lexically_normal();
}

Json shiftGridJson(const ShiftGrid& grid, const fs::path& folder) {
    return {{"path", pathText(grid.path, folder)}, {"target", grid.target}};
}
ShiftGrid shiftGridFrom(const Json& json, const fs::path& folder) {
    return {pathFrom(json, folder), json.value("target", 4326)};
}

Json lineageJson(const Lineage& lineage, const fs::path& folder) {
    Json inputs = Json::array();
    for (const LineageInput& i : lineage.inputs) {
        Json out{{"path", pathText(i.path, folder)},
                 {"height_unit", heightUnitText(i.heightUnit)},
                 {"bytes", i.stamp.bytes},
                 {"modified_ms", i.stamp.modifiedMs}};
        if (!i.name.empty()) out["name"] = i.name;
        if (!i.layer.empty()) out["layer"] = i.layer;
        if (i.band != 0) out["band"] = i.band;
        if (i.declaredCrs) out["declared_crs"] = *i.declaredCrs;
        if (i.shiftGrid) out["shift_grid"] = shiftGridJson(*i.shiftGrid, folder);
        inputs.push_back(std::move(out));
    }
    return {{"operation", lineage.operation},
            {"inputs", std::move(inputs)},
            {"parameters", lineage.parameters}};
}

Lineage lineageFrom(const Json& json, const fs::path& folder) {
    Lineage out;
    out.operation = json.value("operation", "");
    out.parameters = json.value("parameters", out.parameters);
    for (const Json& i : json.value("inputs", Json::array())) {
        LineageInput input;
        input.path = pathFrom(i, folder);
        input.name = i.value("name", "");
        input.layer = i.value("layer", "");
        input.band = std::max(0, i.value("band", 0));
        if (i.contains("declared_crs")) input.declaredCrs = i["declared_crs"].get<std::string>();
        if (i.contains("shift_grid")) input.shiftGrid = shiftGridFrom(i["shift_grid"], folder);
        input.heightUnit = heightUnitFrom(i);
        input.stamp = {i.value("bytes", std::int64_t{-1}), i.value("modified_ms", std::int64_t{0})};
        out.inputs.push_back(std::move(input));
    }
    return out;
}

Json sourceJson(const SourceRef& s, const fs::path& folder) {
    Json out{{"id", s.id}, {"name", s.name}};
    if (!s.path.empty()) out["path"] = pathText(s.path, folder);
    if (!s.layer.empty()) out["layer"] = s.layer;
    if (s.declaredCrs) out["declared_crs"] = *s.declaredCrs;
    if (s.shiftGrid) out["shift_grid"] = shiftGridJson(*s.shiftGrid, folder);
    out["height_unit"] = heightUnitText(s.heightUnit);
    if (!s.credit.empty()) out["credit"] = s.credit;
    if (s.lineage) out["lineage"] = lineageJson(*s.lineage, folder);
    return out;
}

SourceRef sourceFrom(const Json& json, const fs::path& folder) {
    SourceRef s;
    s.id = json.at("id").get<Id>();
    s.name = json.value("name", "");
    if (json.contains("lineage")) s.lineage = lineageFrom(json["lineage"], folder);
    if (json.contains("path") || !s.lineage) s.path = pathFrom(json, folder);
    s.layer = json.value("layer", "");
    if (json.contains("declared_crs")) s.declaredCrs = json["declared_crs"].get<std::string>();
    if (json.contains("shift_grid")) s.shiftGrid = shiftGridFrom(json["shift_grid"], folder);
    s.heightUnit = heightUnitFrom(json);
    s.credit = json.value("credit", "");
    return s;
}

constexpr const char* kForms[] = {"map units", "degrees, minutes, seconds", "decimal degrees"};
constexpr const char* kLengths[] = {"metric", "feet", "US survey feet", "nautical miles"};

Json displayJson(const Display& d) {
    return {{"coordinates", kForms[static_cast<std::size_t>(d.coordinates)]},
            {"lengths", kLengths[static_cast<std::size_t>(d.lengths)]}};
}
Display displayFrom(const Json& json) {
    Display out;
    for (std::size_t i = 0; i < std::size(kForms); ++i)
        if (json.value("coordinates", "") == kForms[i])
            out.coordinates = static_cast<CoordinateForm>(i);
    for (std::size_t i = 0; i < std::size(kLengths); ++i)
        if (json.value("lengths", "") == kLengths[i]) out.lengths = static_cast<LengthUnit>(i);
    return out;
}

Id largestId(const Document& d) {
    Id most = 0;
    for (const LayerPtr& layer : allLayers(d.layers)) most = std::max(most, layer->id);
    for (const SourceRef& s : d.sources) most = std::max(most, s.id);
    for (const SavedView& v : d.views) most = std::max(most, v.id);
    for (const SavedProfile& p : d.profiles) most = std::max(most, p.id);
    for (const Sheet& s : d.sheets) {
        most = std::max(most, s.id);
        for (const SheetItem& item : s.items) most = std::max(most, item.id);
    }
    return most;
}

Json profileJson(const SavedProfile& p) {
    Json line = Json::array();
    for (const Point at : p.line) line.push_back({at.x, at.y});
    return {{"id", p.id},
            {"name", p.name},
            {"crs", p.crs},
            {"line", std::move(line)},
            {"sources", p.sources}};
}
SavedProfile profileFrom(const Json& json) {
    SavedProfile out;
    out.id = json.at("id").get<Id>();
    out.name = json.value("name", "");
    out.crs = json.value("crs", "");
    out.sources = json.value("sources", std::vector<Id>());
    for (const Json& at : json.value("line", Json::array()))
        out.line.push_back({at.at(0).get<double>(), at.at(1).get<double>()});
    return out;
}

Document documentFrom(const Json& json, const fs::path& folder) {
    Document d;
    d.name = json.value("name", d.name);
    d.mapCrs = json.value("map_crs", "");
    for (const Json& s : json.value("sources", Json::array()))
        d.sources.push_back(sourceFrom(s, folder));
    d.layers = layersFrom(json.value("layers", Json::array()));
    for (const Json& v : json.value("views", Json::array())) {
        SavedView view;
        view.id = v.at("id").get<Id>();
        view.name = v.value("name", "");
        view.view = viewFrom(v);
        const Json dark = v.value("dark", Json::array());
        for (const Json& id : dark) view.dark.insert(id.get<Id>());
        d.views.push_back(std::move(view));
    }
    for (const Json& p : json.value("profiles", Json::array()))
        d.profiles.push_back(profileFrom(p));
    d.lightPrefix = json.value("light_prefix", "");
    for (const Json& s : json.value("sheets", Json::array())) d.sheets.push_back(sheetFrom(s));
    for (const Json& c : json.value("custom_crs", Json::array()))
        d.customCrs.push_back({c.value("name", ""), c.value("wkt", "")});
    for (const Json& c : json.value("datum_operations", Json::array()))
        d.datumChoices.push_back(
            {c.value("one", 0), c.value("other", 0), c.value("operation", "")});
    if (json.contains("display")) d.display = displayFrom(json["display"]);
    if (json.contains("last_view")) d.lastView = viewFrom(json["last_view"]);
    d.nextId = largestId(d) + 1;
    return d;
}
}  // namespace

Json layersJson(const std::vector<LayerPtr>& layers) {
    Json out = Json::array();
    for (const LayerPtr& layer : layers) {
        Json json{{"id", layer->id},
                  {"kind", layerKind(*layer)},
                  {"name", layer->name},
                  {"visible", layer->isVisible},
                  {"opacity", layer->opacity},
                  {"blend", kBlendNames[static_cast<std::size_t>(layer->blend)]}};
        if (layer->source != 0) json["source"] = layer->source;
        if (layer->widestScale > 0) json["widest_scale"] = layer->widestScale;
        if (layer->closestScale > 0) json["closest_scale"] = layer->closestScale;
        std::visit(ContentWriter{json}, layer->content);
        out.push_back(std::move(json));
    }
    return out;
}

std::vector<LayerPtr> layersFrom(const Json& json, int depth) {
    std::vector<LayerPtr> out;
    if (depth > kDeepest) return out;
    for (const Json& j : json) {
        auto layer = std::make_shared<Layer>();
        layer->id = j.at("id").get<Id>();
        layer->name = j.value("name", "");
        layer->isVisible = j.value("visible", true);
        layer->opacity = std::clamp(j.value("opacity", 1.0), 0.0, 1.0);
        layer->blend = blendNamed(j.value("blend", "normal")).value_or(Blend::Normal);
        layer->source = j.value("source", Id{0});
        layer->widestScale = std::max(0.0, j.value("widest_scale", 0.0));
        layer->closestScale = std::max(0.0, j.value("closest_scale", 0.0));
        layer->content = contentFrom(j, j.value("kind", "vector"), depth);
        out.push_back(std::move(layer));
    }
    return out;
}

namespace {
Json projectJson(const Document& d, const fs::path& folder) {
    Json sources = Json::array(), views = Json::array(), sheets = Json::array();
    for (const SourceRef& s : d.sources) sources.push_back(sourceJson(s, folder));
    for (const SavedView& v : d.views) {
        Json view{{"id", v.id}, {"name", v.name}};
        view.update(viewJson(v.view));
        view["dark"] = v.dark;
        views.push_back(std::move(view));
    }
    for (const Sheet& s : d.sheets) sheets.push_back(sheetJson(s));
    Json profiles = Json::array();
    for (const SavedProfile& p : d.profiles) profiles.push_back(profileJson(p));
    Json custom = Json::array();
    for (const CustomCrs& c : d.customCrs) custom.push_back({{"name", c.name}, {"wkt", c.wkt}});
    Json choices = Json::array();
    for (const crs::DatumChoice& c : d.datumChoices)
        choices.push_back({{"one", c.one}, {"other", c.other}, {"operation", c.operation}});
    return {{"ledge_project", kVersion},
            {"name", d.name},
            {"map_crs", d.mapCrs},
            {"sources", std::move(sources)},
            {"layers", layersJson(d.layers)},
            {"views", std::move(views)},
            {"profiles", std::move(profiles)},
            {"light_prefix", d.lightPrefix},
            {"sheets", std::move(sheets)},
            {"custom_crs", std::move(custom)},
            {"datum_operations", std::move(choices)},
            {"display", displayJson(d.display)},
            {"last_view", viewJson(d.lastView)}};
}
}  // namespace

std::string projectText(const Document& d, const fs::path& folder) {
    Json out = projectJson(d, folder);
    if (d.opened) {
        const Json original = Json::parse(d.opened->text, nullptr, false);
        if (original.is_object())
            out =
                kept(original,
                     projectJson(documentFrom(original, d.opened->folder), d.opened->folder), out);
    }
    return out.dump(2, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<Document> projectFromText(const std::string& text, const fs::path& folder) {
    const auto bad = [](std::string why) {
        if (const auto at = why.find("] "); at != std::string::npos) why = why.substr(at + 2);
        return Error{ErrorCode::BadFormat, "project", why.substr(0, 200),
                     "the file is damaged; an autosaved copy may be whole"};
    };
    try {
        const Json json = Json::parse(text);
        if (!json.is_object() || !json.contains("ledge_project"))
            return Error{ErrorCode::BadFormat, "project", "this is no Indigo Ledge project",
                         "open it as data, or choose a .ledge file"};
        if (json["ledge_project"].get<int>() > kVersion)
            return Error{ErrorCode::Unsupported, "project", "made by a newer version",
                         "update Indigo Ledge"};
        Document out = documentFrom(json, folder);
        out.opened = std::make_shared<const Document::Opened>(Document::Opened{text, folder});
        return out;
    } catch (const nlohmann::json::exception& problem) {
        return bad(problem.what());
    }
}

}  // namespace ledge::doc
