#include "demo/demo_sheets.h"

#include <algorithm>

#include "core/base/numbers.h"
#include "document/edits/edit_table.h"
#include "document/map_crs.h"

namespace ledge::demo {
namespace {
using namespace doc;

// Edits of one sheet. What cannot be done is a mistake in here, and thrown.
class Composer {
public:
    explicit Composer(Document document) : m_document(std::move(document)) {}

    void edit(const char* name, EditWords words) {
        auto next = applied(m_document, name, words);
        if (!next) throw std::logic_error(next.error().text());
        m_document = std::move(next->document);
    }
    void begin(const std::string& name, const char* from, const MapView& view,
               EditWords more = {}) {
        m_sheet = name;
        more.insert({{"name", name},
                     {"template", from},
                     {"centre", exactNumber(view.centre.x) + "," + exactNumber(view.centre.y)},
                     {"scale", exactNumber(groundScale(view, mapCrs(m_document)))}});
        edit("sheet-add", more);
    }
    void set(const char* item, const char* member, const std::string& value) {
        edit("item-set",
             {{"sheet", m_sheet}, {"item", item}, {"member", member}, {"value", value}});
    }
    void add(const char* kind, const char* name, const char* rect, const char* with,
             EditWords more = {}) {
        more.insert(
            {{"sheet", m_sheet}, {"kind", kind}, {"name", name}, {"rect", rect}, {"with", with}});
        edit("item-add", more);
    }
    void on(const char* edited, const char* item, EditWords more) {
        more.insert({{"sheet", m_sheet}, {"item", item}});
        edit(edited, more);
    }
    void sheet(const char* member, const std::string& value) {
        edit("sheet-set", {{"sheet", m_sheet}, {"member", member}, {"value", value}});
    }
    /// A panel's own lamps: what stands here, and the groups around it.
    void light(const char* panel, const std::vector<std::string>& names) {
        std::string lit;
        for (const LayerPtr& layer : allLayers(m_document.layers))
            if (std::find(names.begin(), names.end(), layer->name) != names.end())
                lit += (lit.empty() ? "" : ",") + std::to_string(layer->id);
        set(panel, "lit", "[" + lit + "]");
    }
    std::string layer(const std::string& name) const {
        for (const LayerPtr& one : allLayers(m_document.layers))
            if (one->name == name) return std::to_string(one->id);
        return "0";
    }
    std::string item(const std::string& name) const {
        for (const Sheet& one : m_document.sheets)
            if (one.name == m_sheet)
                for (const SheetItem& each : one.items)
                    if (each.name == name) return std::to_string(each.id);
        return "0";
    }
    Document document() && { return std::move(m_document); }

private:
    Document m_document;
    std::string m_sheet;
};

const std::vector<std::string> kRelief{"Relief of Island DEM", "Height tint", "Light 315/40",
                                       "Steepness tint"};

std::vector<std::string> with(std::vector<std::string> some, const std::vector<std::string>& more) {
    some.insert(some.end(), more.begin(), more.end());
    return some;
}

void overview(Composer& c, const MapView& whole) {
    c.begin("Overview", "map and foot", whole);
    c.set("Title", "text", "Hill paths to be re-routed");
    c.set("Subtitle", "text", "{project} · {crs} · {scale}");
    c.on("legend-listed", "Key", {{"layer", "Coast"}, {"listed", "no"}});
    c.on("legend-name", "Key", {{"layer", "Height tint"}, {"name", "Height"}});
    c.on("panel-lamps", "Main map", {{"from", "map"}});
    c.set("Key", "of_view", "yes");
}

// The kept profile in a strip between the map, which makes room, and what stands below it.
void glenSurvey(Composer& c, const MapView& glen) {
    c.begin("Glen survey", "map and foot", glen, {{"width", "210"}, {"height", "297"}});
    c.set("Title", "text", "Paths of the glen");
    c.set("Subtitle", "text", "Condition survey · {crs} · {scale}");
    c.on("legend-listed", "Key", {{"layer", "Coast"}, {"listed", "no"}});
    c.on("legend-name", "Key", {{"layer", "Height tint"}, {"name", "Height"}});
    c.on("panel-lamps", "Main map", {{"from", "map"}});
    c.set("Key", "of_view", "yes");
    c.on("item-rect", "Main map", {{"rect", "10.5,15.5,189,154"}});
    c.add("profile", "Across the summit", "10.5,174,189,42", R"({"size_pt": 8})",
          {{"profile", "Across the summit"}});
}

// Three measures of one place on pages of six inches, for a text.
void figure(Composer& c, const MapView& whole) {
    MapView view = whole;
    view.scale = 250000;
    c.begin("Three measures", "report figure", view);
    c.light("Map", {"Coast", "Sheep for each household"});
    c.set("Key", "of_view", "yes");
    c.on("legend-listed", "Key", {{"layer", "Coast"}, {"listed", "no"}});
    c.on("legend-name", "Key", {{"layer", "Sheep for each household"}, {"name", "Five classes"}});
    c.on("item-rect", "Key", {{"rect", "6,103,36,41"}});
    c.on("panel-scale", "Map", {{"scale", "200000"}});
    c.add("text", "Title", "7,6,100,8", R"({"text": "{page name}", "size_pt": 13, "bold": true})");
    c.sheet("series.over", "fields");
    c.sheet("series.layer", c.layer("Sheep for each household"));
    c.sheet(
        "series.fields",
        R"(["Sheep for each household: sheep / households", "Sheep for each km\u00b2: sheep / area_km2", "Households for each km\u00b2: households / area_km2"])");
}

// A page a district: where it is, what is in it, who its neighbours are.
void districts(Composer& c, const MapView& whole) {
    c.begin("Districts", "portrait with inset", whole);
    c.set("Title", "text", "{page name}");
    c.set("Subtitle", "text",
          "{feature: area_km2} km² · {feature: households} households · beside {neighbours} · "
          "{Main map: scale}");
    c.light("Main map", with(kRelief, {"Coast", "Crofts", "Districts", "Hill paths", "Lochs",
                                       "Places", "Roads", "Streams"}));
    c.light("Surroundings", {"Coast", "Districts"});
    c.on("panel-scale", "Surroundings", {{"scale", "500000"}});
    c.on("legend-listed", "Key", {{"layer", "Coast"}, {"listed", "no"}});
    c.on("legend-name", "Key", {{"layer", "Height tint"}, {"name", "Height"}});
    c.set("Key", "of_view", "yes");
    c.set("Main map", "shown_in", "0");
    c.on("item-rect", "Title", {{"rect", "10.5,10.5,135,9"}});
    c.add(
        "text", "Page", "150,10.5,49.5,6",
        R"({"text": "Page {page} of {pages}", "size_pt": 8, "align": "right", "colour": "#6B6F8E"})");
    c.sheet("series.over", "features");
    c.sheet("series.layer", c.layer("Districts"));
    c.sheet("series.naming", "name");
    c.sheet("series.sort_by", "name");
    c.sheet("series.panel", c.item("Main map"));
    c.sheet("series.index_panel", c.item("Surroundings"));
}

// For the wall of the council's hall: a column with what the map does not say.
void wall(Composer& c, const MapView& whole) {
    MapView view = whole;
    view.scale = 75000;
    c.begin("Wall map", "side column", view);
    c.set("Title", "text", "Skerravoe");
    c.set("Subtitle", "text", "Paths, crofts and rain\n{scale}");
    c.light("Main map", with(kRelief, {"Coast", "Contours 25 m", "Crofts", "Hill paths", "Lochs",
                                       "Places", "Rain gauges", "Roads", "Streams"}));
    c.on("panel-scale", "Main map", {{"scale", "80000"}});
    c.set(
        "Main map", "grids",
        R"([{"form": "lines", "style": {"lines": "graticule", "colour": "#4A4F7D66"}}, {"form": "ticks", "style": {"lines": "grid"}}])");
    c.on("legend-listed", "Key", {{"layer", "Coast"}, {"listed", "no"}});
    c.on("legend-name", "Key", {{"layer", "Height tint"}, {"name", "Height"}});
    c.on("legend-name", "Key", {{"layer", "Rain gauges"}, {"name", "Rain in a year, mm"}});
    c.on("item-rect", "Key", {{"rect", "325,46,83,100"}});
    c.set("Key", "of_view", "yes");
    c.set("Scale", "form", "blocks");
    c.set("Scale", "second_unit", "mi");
    c.set("North", "design", "split");
    c.add("chart", "Croft sizes", "325,150,83,42",
          R"({"field": "area_ha", "title": "Crofts by hectares", "bins": 14, "colour": "#8E9355"})",
          {{"layer", "Crofts"}});
    c.add(
        "table", "Rain table", "325,202,83,34",
        R"({"fields": ["Gauge: gauge", "Height, m: height_m", "Rain, mm: year_mm"], "sort_by": "year_mm", "descending": true, "most_rows": 5, "size_pt": 7})",
        {{"layer", "Rain gauges"}});
}
}  // namespace

Document withSheets(Document document, const MapView& whole, const MapView& glen) {
    Composer c(std::move(document));
    overview(c, whole);
    glenSurvey(c, glen);
    figure(c, whole);
    districts(c, whole);
    wall(c, whole);
    return std::move(c).document();
}

}  // namespace ledge::demo
