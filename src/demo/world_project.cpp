#include "demo/world_project.h"

#include <array>

#include "demo/project_builder.h"
#include "document/edits/sheet_edits.h"

namespace ledge::demo {
namespace {
using namespace doc;

constexpr const char* kCredit = "Atlas of Velmarra, 2026 (invented)";

struct WorldMap {
    const char* crs;
    const char* title;
    const char* keeps;
    double widthKm, heightKm;  ///< of the whole globe, as the map draws it
};
constexpr std::array kMaps{
    WorldMap{"world:equal-earth", "Equal Earth", "keeps areas", 34500, 16800},
    WorldMap{"world:mercator", "Mercator", "keeps shapes and bearings", 40100, 40000},
    WorldMap{"world:robinson@150", "Robinson, from 150° E", "keeps nothing wholly", 34100, 17300},
    WorldMap{"world:homolosine", "Interrupted homolosine", "keeps areas, torn in the seas", 40100,
             17000},
    WorldMap{"world:azimuthal-equal-area@0,90", "Azimuthal, from the north pole", "keeps areas",
             25500, 25500},
    WorldMap{"world:azimuthal-equidistant@20,15", "Azimuthal, from 20° E 15° N",
             "keeps distances from the middle", 40100, 40100}};

Look area(Colour fill) {
    Look out;
    out.fill = fill;
    out.stroke = {0x6B, 0x6A, 0x5E};
    out.strokeMm = 0.12;
    return out;
}

SheetItem text(const char* name, const std::string& words, PageRect rect, double pt, bool isBold) {
    SheetItem item;
    item.name = name;
    item.rect = rect;
    TextItem content;
    content.text = words;
    content.sizePt = pt;
    content.isBold = isBold;
    item.content = content;
    return item;
}

void addComparison(ProjectBuilder& b) {
    constexpr double kLeft = 14, kTop = 34, kWide = 126, kHigh = 104, kGap = 7, kCaption = 15;
    auto [next, sheet] = addSheet(std::move(b.document), "Six maps of one world", 420, 297, {});
    b.document = withSheet(std::move(next), sheet, [](Sheet& s) { s.items.clear(); });
    const auto add = [&](SheetItem item) {
        b.document = addItem(std::move(b.document), sheet, std::move(item)).first;
    };
    add(text("Title", "Six maps of one world", {kLeft, 10, 300, 12}, 20, true));
    add(text("Subtitle",
             "The same lands and the same two courses: the shortest one (red) and one of constant "
             "bearing (blue, dashed)",
             {kLeft, 22, 380, 8}, 9.5, false));
    for (std::size_t i = 0; i < kMaps.size(); ++i) {
        const WorldMap& map = kMaps[i];
        const double left = kLeft + static_cast<double>(i % 3) * (kWide + kGap);
        const double top = kTop + static_cast<double>(i / 3) * (kHigh + kCaption + kGap);
        SheetItem panel;
        panel.name = map.title;
        panel.rect = {left, top, kWide, kHigh};
        MapPanel content;
        content.crs = map.crs;
        content.centre = {0, 0};
        content.scale = std::max(map.widthKm / (kWide - 8), map.heightKm / (kHigh - 8)) * 1e6;
        content.hasTicks = false;
        panel.content = content;
        add(std::move(panel));
        add(text("Name", map.title, {left, top + kHigh + 1, kWide, 6}, 9.5, true));
        add(text("Keeps", map.keeps, {left, top + kHigh + 7, kWide, 5}, 8, false));
    }
    SheetItem credits;
    credits.name = "Credits";
    credits.rect = {kLeft, 284, 392, 6};
    credits.content = CreditsItem{};
    add(std::move(credits));
}
}  // namespace

Document worldProject(const std::filesystem::path& folder) {
    ProjectBuilder b(folder, kCredit);
    b.document.name = "A small world";
    b.document.mapCrs = "world:equal-earth";

    HeightTint tint;
    tint.style.ramp = heightTint("humid", -3000, 3000);
    b.dark(b.put("Relief", b.source("Relief", "world_relief.tif"), tint));

    VectorLayer lands;
    lands.geometry = GeometryType::Polygon;
    lands.style.classing = Classing::Categories;
    lands.style.field = "region";
    lands.style.categories = {{"Inner Sea", "Inner Sea", area({0xE9, 0xDC, 0xB5})},
                              {"Outer Sea", "Outer Sea", area({0xCF, 0xDB, 0xB4})},
                              {"Southern", "Southern", area({0xE6, 0xCB, 0xB8})}};
    lands.style.others = lands.style.missing = area({0xE0, 0xE0, 0xD8});
    lands.labels[0].isOn = true;
    lands.labels[0].text = "name";
    lands.labels[0].rank = "people";
    lands.labels[0].sizePt = 7.5;
    lands.labels[0].colour = {0x5A, 0x50, 0x3C};
    b.put("Lands", b.source("Lands", "lands.geojson"), lands);

    GridLines net;
    net.style.interval = 30;
    net.style.colour = {0x6F, 0x86, 0x9C};
    net.style.lineMm = 0.08;
    net.style.labelPt = 5.5;
    net.style.hasOutline = true;
    net.style.outlineMm = 0.3;
    net.style.hasSea = true;
    b.put("Globe", 0, net, 0.9);

    VectorLayer courses;
    courses.geometry = GeometryType::Line;
    courses.style.classing = Classing::Categories;
    courses.style.field = "name";
    const auto course = [](Colour colour, Dash dash) {
        Look look;
        look.stroke = colour, look.strokeMm = 0.5, look.dash = dash;
        return look;
    };
    courses.style.categories = {
        {"shortest way", "shortest way", course({0x9E, 0x2A, 0x5B}, Dash::Solid)},
        {"constant bearing", "constant bearing", course({0x2F, 0x4E, 0x8C}, Dash::Dashes)}};
    b.put("Courses", b.source("Courses", "courses.geojson"), courses);

    VectorLayer capitals;
    capitals.geometry = GeometryType::Point;
    capitals.style.look.fill = {0x33, 0x2B, 0x28};
    capitals.style.look.markMm = 1.3;
    capitals.labels[0].isOn = true;
    capitals.labels[0].text = "name";
    capitals.labels[0].rank = "rank";
    capitals.labels[0].sizePt = 6.5;
    capitals.labels[0].isItalic = true;
    b.put("Capitals", b.source("Capitals", "capitals.geojson"), capitals);

    b.document.lastView = {{0, 0}, 160e6, 0};
    addComparison(b);
    return std::move(b.document);
}

}  // namespace ledge::demo
