#include "demo/demo_project.h"

#include "demo/demo_sheets.h"
#include "demo/imagery.h"
#include "demo/project_builder.h"
#include "document/edits/sheet_edits.h"
#include "document/map_crs.h"
#include "session/derive/lineage.h"
#include "session/field_classes.h"
#include "session/new_layers.h"

namespace ledge::demo {
namespace {
using namespace doc;

constexpr const char* kCredit = "Survey data: Skerravoe Islands Council, 2026 (invented)";

VectorLayer styled(const FeatureTable& table, const std::string& name, std::size_t hue = 0) {
    return session::defaultVectorLayer(table, name, hue);
}

// What the council counts, each drawn as such numbers should be: a rate in classes, counts as dots
// and as circles. Dark, so that the map stays one of paths.
void addThemes(ProjectBuilder& b, Id districts, const FeatureTable& table) {
    VectorLayer rate = styled(table, "Districts");
    rate.style.per = "households";
    rate.style.classes.family = "moss";
    if (auto classes = session::fieldClasses(table, rate.style, Classing::Classes, "sheep"))
        rate.style = std::move(classes->style);
    rate.style.numbers = {1, true};
    rate.labels[0].isOn = false;
    b.dark(b.put("Sheep for each household", districts, rate));

    VectorLayer counts = styled(table, "Districts");
    counts.style.classing = Classing::Dots;
    counts.style.look.fill = {0xF1, 0xEF, 0xE6};
    counts.style.look.stroke = {0xB5, 0xAF, 0xA0};
    counts.style.look.strokeMm = 0.12;
    counts.style.dots.fields = {{"sheep", {0x7A, 0x52, 0x2C}}, {"households", {0xB0, 0x2F, 0x3A}}};
    counts.style.dots.each = 5;
    counts.style.dots.dotMm = 0.45;
    counts.labels[0].isOn = false;
    b.dark(b.put("Sheep and households", districts, counts));
}

void addRelief(ProjectBuilder& b, Id dem, const Terrain& terrain) {
    float low = 0, high = 0;
    for (const float h : terrain.heights.cells()) low = std::min(low, h), high = std::max(high, h);
    const Id group = b.put("Relief of Island DEM", 0, Group{});
    HeightTint tint;
    tint.style.ramp =
        heightTint("humid", std::floor(double(low) / 10) * 10, std::ceil(double(high) / 50) * 50);
    b.put("Height tint", dem, tint, 1, Blend::Normal, group);
    Hillshade shade;
    shade.style.lights = {{315, 40}};
    shade.style.kept = {{315, 40}, {270, 40}, {45, 40}};
    b.put("Light 315/40", dem, shade, 0.45, Blend::Multiply, group);
    b.put("Steepness tint", dem, Steepness{}, 0.15, Blend::Multiply, group);
}

// Nothing stored: the near infrared against the red of the picture, computed as it is shown.
void addVigour(ProjectBuilder& b, Id picture) {
    const SourceRef& aerial = *b.document.source(picture);
    const auto lineage = session::calculation(
        "normalised_difference(band4, band1)",
        {session::inputFrom(aerial, "band1", 0), session::inputFrom(aerial, "band4", 3)});
    if (!lineage) return;
    SourceRef live;
    live.name = "Plant vigour";
    live.credit = kCredit;
    live.lineage = session::stamped(*lineage);
    auto [next, id] = addSource(std::move(b.document), live);
    b.document = std::move(next);
    RasterLayer vigour;
    vigour.style.family = "moss";
    vigour.style.ramp = rampOf("moss", -0.2, 0.6);
    vigour.style.numbers = {1, true};
    b.dark(b.put("Plant vigour", id, vigour));
}

void addImagery(ProjectBuilder& b, const RasterSource& cover) {
    RasterLayer aerial;
    aerial.style.image = ImageStyle{};
    aerial.style.image->limits = {{{10, 185}, {20, 185}, {15, 185}}};
    const Id picture = b.source("Aerial picture", "aerial_summer.tif");
    b.dark(b.put("Aerial picture", picture, aerial));
    addVigour(b, picture);
    RasterLayer classes;
    classes.style.classes = session::classesOf(cover);
    classes.style.classTable.hidden = {"value"};
    for (RasterClass& one : classes.style.classes)
        one.name = landCoverNames()[static_cast<std::size_t>(one.value) - 1];
    b.dark(b.put("Land cover", b.source("Land cover", "land_cover.tif"), classes));
}
}  // namespace

Document demoProject(const std::filesystem::path& folder, const Features& f, const Terrain& terrain,
                     const RasterSource& cover) {
    ProjectBuilder b(folder, kCredit);
    b.document.name = "Skerravoe hill paths";
    b.document.mapCrs = "EPSG:32629";
    const Id old = b.source("Old survey grid", "old_survey.asc");
    b.document = withSource(std::move(b.document), old,
                            [](SourceRef& s) { s.heightUnit = HeightUnit::Foot; });
    HeightTint oldTint;
    oldTint.style.ramp = heightTint("arid", 0, 700);
    b.dark(b.put("Old survey grid", old, oldTint));

    const Id dem = b.source("Island DEM", "island_dem.tif");
    addImagery(b, cover);
    addRelief(b, dem, terrain);

    VectorLayer districts = styled(f.districts, "Districts");
    districts.style.look.hasFill = false;
    districts.labels[0].isOn = false;
    const Id districtSource = b.source("Districts", "council.gpkg", "districts");
    b.dark(b.put("Districts", districtSource, districts));
    addThemes(b, districtSource, f.districts);

    VectorLayer crofts = styled(f.crofts, "Crofts");
    ColumnLook hectares;
    hectares.field = "area_ha";
    hectares.unit = "ha";
    hectares.numbers.decimals = 1;
    crofts.columns = {hectares};
    crofts.style.look.fill = {0xDF, 0xE3, 0xB0, 0xA0};
    crofts.style.look.stroke = {0x8E, 0x93, 0x55};
    crofts.style.look.strokeMm = 0.1;
    crofts.keepsLabelsOff = 0;
    b.put("Crofts", b.source("Crofts", "crofts.shp"), crofts, 0.8);

    Contours contours;
    contours.style.levels.interval = 25;
    contours.style.thins = true;
    contours.style.indexEvery = 4;
    b.put("Contours 25 m", dem, contours, 0.55);

    VectorLayer streams = styled(f.streams, "Streams");
    streams.style.look.stroke = {0x1E, 0x5C, 0x8F};
    streams.labels[0].isOn = true;
    streams.labels[0].sizePt = 6;
    streams.labels[0].hasHalo = false;
    streams.labels[0].widestScale = 80000;
    b.put("Streams", b.source("Streams", "base.gpkg", "streams"), streams);

    VectorLayer lochs = styled(f.lochs, "Lochs");
    lochs.style.look.fill = {0xA6, 0xCC, 0xE2};
    lochs.style.look.stroke = {0x1E, 0x5C, 0x8F};
    lochs.labels[0].isOn = true;
    lochs.labels[0].sizePt = 6.5;
    lochs.labels[0].inAreas = AreaPlace::Outside;
    lochs.labels[0].widestScale = 60000;
    lochs.labels[0].hasHalo = false;
    b.put("Lochs", b.source("Lochs", "base.gpkg", "lochs"), lochs);

    VectorLayer coast = styled(f.coast, "Coast");
    coast.style.look.hasFill = false;
    coast.labels[0].isOn = false;
    b.put("Coast", b.source("Coast", "base.gpkg", "coast"), coast);

    VectorLayer roads = styled(f.roads, "Roads");
    roads.labels[0].isOn = false;
    roads.style.look.casingMm = 0.2;
    b.put("Roads", b.source("Roads", "base.gpkg", "roads"), roads);

    VectorLayer paths = styled(f.paths, "Hill paths");
    paths.style.classing = Classing::Categories;
    paths.style.field = "condition";
    const auto condition = [&](const char* value, const char* label, Colour colour, double mm,
                               Dash dash) {
        Look look = paths.style.look;
        look.stroke = colour, look.strokeMm = mm, look.dash = dash;
        paths.style.categories.push_back({value, label, look});
    };
    condition("to be re-routed", "to be re-routed", {0xA3, 0x1F, 0x2B}, 0.6, Dash::Dashes);
    condition("worn", "worn", {0x8A, 0x4A, 0x23}, 0.42, Dash::Dashes);
    condition("sound", "sound", {0x4A, 0x45, 0x42}, 0.32, Dash::Dots);
    paths.labels[0].isOn = false;
    b.put("Hill paths", b.source("Hill paths", "hill_paths.geojson"), paths);

    VectorLayer gauges = styled(f.gauges, "Rain gauges");
    gauges.style.classing = Classing::Sized;
    gauges.style.field = "year_mm";
    gauges.style.sizes.high = 2000;
    gauges.style.sizes.largestMm = 7;
    gauges.style.look.fill = {0x33, 0x76, 0x94, 0xC8};
    gauges.style.look.stroke = {0xF6, 0xF6, 0xFB};
    gauges.style.look.strokeMm = 0.2;
    gauges.style.numbers = {0, true};
    b.dark(b.put("Rain gauges", b.source("Rain gauges", "council.gpkg", "rain_gauges"), gauges));

    VectorLayer places = styled(f.places, "Places");
    places.style.classing = Classing::Categories;
    places.style.field = "kind";
    Look settlement = places.style.look, summit = places.style.look;
    settlement.fill = {0x26, 0x2A, 0x45};
    settlement.markMm = 1.7;
    summit.fill = {0x43, 0x27, 0x14};
    summit.mark = Mark::Triangle;
    summit.markMm = 1.7;
    summit.hasStroke = false;
    places.style.categories = {{"settlement", "settlement", settlement},
                               {"summit", "summit", summit}};
    LabelStyle& towns = places.labels[0];
    towns.isOn = true;
    towns.name = "Settlements";
    towns.text = "name";
    towns.keep = "kind = 'settlement'";
    towns.rank = "rank";
    towns.sizePt = 7;
    LabelStyle heights = towns;
    heights.name = "Summits";
    heights.text = "join(name, '\\n', to_text(height_m))";
    heights.keep = "kind = 'summit'";
    heights.rank = "1";
    heights.sizePt = 6.5;
    heights.isBold = true;
    heights.isItalic = true;
    heights.lineSpacing = 1.05;
    heights.colour = {0x43, 0x27, 0x14};
    places.labels.push_back(heights);
    b.put("Places", b.source("Places", "places.geojson"), places);

    GridLines graticule;
    b.dark(b.put("Graticule", 0, graticule));

    const Point middle = f.coast.box(0).centre();
    const MapView whole{middle + Point{0, -300}, 100000, 0};
    Point summitAt = middle;
    for (const FeatureView p : f.places)
        if (p.value(1) == Value("summit")) {
            summitAt = p.geometry.points.front();
            break;
        }
    const MapView glen{summitAt + Point{600, -1500}, 40000, 0};
    b.document = saveView(std::move(b.document), "Whole island", whole).first;
    b.document = saveView(std::move(b.document), "High glen", glen).first;
    SavedProfile ridge;
    ridge.name = "Across the summit";
    ridge.crs = b.document.mapCrs;
    ridge.line = {summitAt + Point{-3600, -2400}, summitAt, summitAt + Point{4200, 1500}};
    ridge.sources = {dem};
    b.document = saveProfile(std::move(b.document), ridge).first;
    SavedQuestion near;
    near.id = b.document.nextId++;
    near.name = "Crofts by new paths";
    for (const LayerPtr& layer : allLayers(b.document.layers)) {
        if (layer->name == "Crofts") near.layer = layer->id;
        if (layer->name == "Hill paths") near.near = layer->id;
    }
    near.nearKeep = "condition = 'to be re-routed'";
    near.withinMetres = 500;
    b.document.questions.push_back(near);
    b.document.lastView = whole;
    const auto crs = mapCrs(b.document);
    const MapView sheetView = atGroundScale(whole, crs, 125000);
    const MapView glenSheet = atGroundScale(glen, crs, 25000);
    return withSheets(std::move(b.document), sheetView, glenSheet);
}

}  // namespace ledge::demo
