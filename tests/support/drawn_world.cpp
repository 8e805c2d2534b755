#include "support/drawn_world.h"

#include <cmath>

#include "document/edits/layer_edits.h"
#include "document/kinds.h"

namespace ledge::test {

DrawnWorld::DrawnWorld() {
    Grid<float> z(260, 320);
    for (std::size_t r = 0; r < z.rows(); ++r)
        for (std::size_t c = 0; c < z.cols(); ++c) {
            const double x = static_cast<double>(c) / 40, y = static_cast<double>(r) / 33;
            z(r, c) = static_cast<float>(150 + 90 * std::sin(x) * std::cos(y * 1.3) +
                                         30 * std::sin(3.1 * x + y));
        }
    RasterInfo info;
    info.crs = *crs::crsFromCode(32629);
    info.toWorld = {25, 0, 496000, 0, -25, 6803250};
    m_pyramid = std::make_shared<Pyramid>(std::make_shared<MemoryRaster>(info, z), 0);
    FeatureList list;
    list.info.crs = info.crs;
    list.info.fields = {{"name", FieldType::Text}, {"value", FieldType::Real}};
    const auto around = [](double x, double y, double radius, int corners) {
        std::vector<Point> ring;
        for (int i = 0; i <= corners; ++i) {
            const double turn = 2 * M_PI * i / corners;
            ring.push_back(
                {500000 + x + radius * std::cos(turn), 6800000 + y + radius * std::sin(turn)});
        }
        return ring;
    };
    std::vector<Point> winding;
    for (int i = 0; i <= 400; ++i)
        winding.push_back({497000 + i * 15.0, 6800000 + 900 * std::sin(i / 25.0) + 3 * (i % 7)});
    list.features = {
        {1,
         Geometry::polygon({around(0, 0, 900, 7), around(0, 0, 300, 5)}),
         {std::string("ring"), 1.0}},
        {2, Geometry::polygon({around(1500, 500, 700, 40)}), {std::string("disc"), 5.0}},
        {3, Geometry::polygon({around(-1400, -600, 800, 3)}), {std::string("tooth"), 9.0}},
        {4, Geometry::polygon({around(600, -1100, 420, 6)}), {std::string("cell"), Value{}}},
        {5, Geometry::line(winding), {std::string("path"), 3.0}},
        {6, Geometry::point({500400, 6800300}), {std::string("Upper farm"), 2.0}},
        {7, Geometry::point({499300, 6799500}), {std::string("Ford"), 4.0}},
        {8, Geometry::point({501200, 6800900}), {std::string("Old mill"), 8.0}}};
    for (const auto type : {GeometryType::Polygon, GeometryType::Line, GeometryType::Point}) {
        FeatureList some;
        some.info = list.info;
        some.info.geometry = type;
        for (const Feature& f : list.features)
            if (f.geometry.type == type) some.features.push_back(f);
        m_features[static_cast<std::size_t>(type)] =
            std::make_shared<doc::MapFeatures>(std::make_shared<FeatureTable>(std::move(some)));
    }
}

doc::Document DrawnWorld::documentOf(const std::string& kind) {
    doc::Layer layer;
    layer.name = kind;
    std::string source = "polygon";
    doc::VectorLayer vector;
    if (kind == "tint") {
        doc::HeightTint tint;
        tint.style.ramp = heightTint("humid", 0, 300);
        layer.content = tint;
    } else if (kind == "light") {
        layer.content = doc::Hillshade{};
        layer.blend = doc::Blend::Multiply;
    } else if (kind == "plain light") {
        doc::Hillshade shade;
        shade.style.hasShadows = true;
        shade.style.lights = {{300, 12}};
        layer.content = shade;
    } else if (kind == "steepness") {
        layer.content = doc::Steepness{};
    } else if (kind == "contours") {
        layer.content = doc::Contours{};
    } else if (kind == "grid") {
        doc::GridLines grid;
        grid.style.isGraticule = false;
        layer.content = grid;
    } else if (kind == "graticule") {
        layer.content = doc::GridLines{};
    } else if (kind == "band") {
        doc::RasterLayer raster;
        raster.style.ramp = rampOf("stone", 0, 300);
        layer.content = raster;
    } else if (kind == "classes") {
        doc::RasterLayer raster;
        raster.style.showsCells = true;
        raster.style.ramp = {{{0, {200, 220, 190}},
                              {150, {200, 220, 190}},
                              {150, {150, 120, 90}},
                              {300, {150, 120, 90}}}};
        layer.content = raster;
    } else if (kind == "dashed lines") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.style.look.dash = doc::Dash::DashDot;
        vector.style.look.strokeMm = 0.5;
        layer.content = vector;
    } else if (kind == "marks") {
        source = "point";
        vector.geometry = GeometryType::Point;
        vector.style.look.mark = doc::Mark::Diamond;
        vector.style.look.markMm = 4;
        layer.content = vector;
    } else if (kind == "names") {
        source = "point";
        vector.geometry = GeometryType::Point;
        vector.labels[0].isOn = true;
        vector.labels[0].text = "name";
        vector.labels[0].sizePt = 10;
        layer.content = vector;
    } else if (kind == "categories") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Categories;
        vector.style.field = "name";
        for (const char* value : {"ring", "disc"}) {
            doc::Category one{value, value, {}};
            one.look.fill = categoryColour(vector.style.categories.size());
            vector.style.categories.push_back(one);
        }
        layer.content = vector;
    } else if (kind == "hatched areas") {
        vector.geometry = GeometryType::Polygon;
        vector.style.look.pattern = doc::Pattern::Hatch;
        layer.content = vector;
    } else if (kind == "dotted areas") {
        vector.geometry = GeometryType::Polygon;
        vector.style.look.pattern = doc::Pattern::Dots;
        vector.style.look.patternMm = 1.8;
        vector.style.look.patternLineMm = 0.3;
        layer.content = vector;
    } else if (kind == "crossed areas") {
        vector.geometry = GeometryType::Polygon;
        vector.style.look.pattern = doc::Pattern::CrossHatch;
        vector.style.look.patternTurn = 20;
        layer.content = vector;
    } else if (kind == "cased lines") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.style.look.strokeMm = 0.8;
        vector.style.look.casingMm = 0.5;
        vector.style.look.casing = {200, 60, 40};
        vector.style.look.dashesMm = {2, 0.8};
        layer.content = vector;
    } else if (kind == "arrows") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.style.look.along = doc::Along::Arrows;
        vector.style.look.alongMm = 6;
        vector.style.look.markMm = 2.4;
        vector.style.look.offsetMm = 0.8;
        layer.content = vector;
    } else if (kind == "number classes") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Classes;
        vector.style.field = "value * 2";
        vector.style.classes.breaks = {4, 12};
        vector.style.classes.low = 2, vector.style.classes.high = 18;
        for (const Colour c : {Colour{230, 240, 220}, {150, 180, 130}, {60, 110, 70}}) {
            doc::NumberClass one;
            one.look.fill = c;
            vector.style.classes.classes.push_back(one);
        }
        vector.style.hasOutlines = false;
        vector.style.missing.pattern = doc::Pattern::Hatch;
        layer.content = vector;
    } else if (kind == "sizes") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Sized;
        vector.style.field = "value";
        vector.style.sizes.high = 10;
        vector.style.sizes.largestMm = 6;
        layer.content = vector;
    } else if (kind == "classed sizes") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Sized;
        vector.style.field = "value";
        vector.style.sizes.isClassed = true;
        vector.style.sizes.smallestMm = 1.5, vector.style.sizes.largestMm = 7;
        vector.style.classes.breaks = {3, 7};
        vector.style.classes.low = 1, vector.style.classes.high = 9;
        vector.style.classes.classes.resize(3);
        layer.content = vector;
    } else if (kind == "square ends" || kind == "flat ends") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.style.look.strokeMm = 1.6;
        vector.style.look.dashesMm = {4, 3};
        vector.style.look.cap = kind[0] == 's' ? doc::Cap::Square : doc::Cap::Round;
        vector.style.look.join = kind[0] == 's' ? doc::Join::Mitre : doc::Join::Bevel;
        layer.content = vector;
    } else if (kind == "ticks" || kind == "marks along") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.style.look.along = kind == "ticks" ? doc::Along::Ticks : doc::Along::Marks;
        vector.style.look.mark = doc::Mark::Square;
        vector.style.look.alongMm = 5;
        layer.content = vector;
    } else if (kind == "own drawings") {
        vector.geometry = GeometryType::Polygon;
        vector.style.look.pattern = doc::Pattern::Pictures;
        vector.style.look.patternMm = 4;
        vector.style.look.patternPicture =
            "<svg xmlns='http://www.w3.org/2000/svg' width='10' height='10'><path "
            "d='M1 9 L5 1 L9 9' fill='none' stroke='currentColor' stroke-width='1.5'/></svg>";
        layer.content = vector;
    } else if (kind == "name on the line" || kind == "name below the line") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.labels[0].isOn = true;
        vector.labels[0].text = "name";
        vector.labels[0].sizePt = 9;
        vector.labels[0].repeatMm = 12;
        vector.labels[0].onLines =
            kind.find("on the") != std::string::npos ? doc::LinePlace::On : doc::LinePlace::Below;
        layer.content = vector;
    } else if (kind == "names along areas") {
        vector.geometry = GeometryType::Polygon;
        vector.labels[0].isOn = true;
        vector.labels[0].text = "name";
        vector.labels[0].inAreas = doc::AreaPlace::Along;
        layer.content = vector;
    } else if (kind == "set type") {
        source = "point";
        vector.geometry = GeometryType::Point;
        doc::LabelStyle& set = vector.labels[0];
        set.isOn = set.isUpper = set.isBold = true;
        set.text = "name";
        set.letterSpacing = 0.2, set.lineSpacing = 1.5, set.wrapAt = 6;
        set.halo = {230, 120, 60}, set.haloMm = 0.8;
        layer.content = vector;
    } else if (kind == "dots") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Dots;
        vector.style.look.fill = {240, 240, 235};
        vector.style.dots.fields = {{"value", {170, 50, 40}}, {"value / 2", {40, 70, 150}}};
        vector.style.dots.each = 0.1;
        vector.style.dots.dotMm = 0.8;
        layer.content = vector;
    } else if (kind == "rules") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Rules;
        doc::StyleRule large, named;
        large.keep = "value > 4";
        large.look.fill = {150, 60, 50};
        named.keep = "name = 'ring'";
        named.look.fill = {60, 110, 150};
        named.look.pattern = doc::Pattern::Crosses;
        vector.style.rules = {large, named};
        vector.style.showsOthers = false;
        layer.content = vector;
    } else if (kind == "bent name") {
        source = "line";
        vector.geometry = GeometryType::Line;
        vector.labels[0].isOn = true;
        vector.labels[0].text = "join('Winding ', name)";
        vector.labels[0].sizePt = 9;
        layer.content = vector;
    } else if (kind == "area names") {
        vector.geometry = GeometryType::Polygon;
        vector.labels[0].isOn = true;
        vector.labels[0].text = "name";
        vector.labels[0].isUpper = true;
        vector.labels[0].inAreas = doc::AreaPlace::Outside;
        doc::LabelPin pin;
        pin.key = 3;
        pin.isPlaced = true;
        pin.rightMm = 2, pin.downMm = 9, pin.turn = -10;
        pin.text = "the\\ntooth";
        vector.labels[0].pins = {pin};
        layer.content = vector;
    } else if (kind == "ramp") {
        vector.geometry = GeometryType::Polygon;
        vector.style.classing = doc::Classing::Ramp;
        vector.style.field = "value";
        vector.style.ramp = rampOf("moss", 0, 10);
        vector.style.missing.fill = {230, 230, 230};
        layer.content = vector;
    } else {
        vector.geometry = GeometryType::Polygon;
        layer.content = vector;
    }
    doc::Document out;
    out.mapCrs = "EPSG:32629";
    doc::SourceRef ref;
    ref.name = source;
    ref.path = "/" + source;
    auto [next, id] = doc::addSource(out, ref);
    layer.source = doc::kindInfo(layer).needsSource ? id : 0;
    return doc::addLayer(std::move(next), std::move(layer)).first;
}

}  // namespace ledge::test
