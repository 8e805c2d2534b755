#include "core/crs/world_crs.h"

#include <algorithm>
#include <array>

#include "core/base/numbers.h"
#include "core/crs/projection.h"

namespace ledge::crs {
namespace {
using Keeps = WorldCrs::Keeps;
constexpr std::string_view kPrefix = "world:";

constexpr std::array kAll{
    WorldCrs{"equal-earth", "Equal Earth", Keeps::Areas, Method::EqualEarth, false, ""},
    WorldCrs{"mollweide", "Mollweide", Keeps::Areas, Method::Mollweide, false, "homolographic"},
    WorldCrs{"eckert-iv", "Eckert IV", Keeps::Areas, Method::Eckert4, false, "eckert 4"},
    WorldCrs{"eckert-vi", "Eckert VI", Keeps::Areas, Method::Eckert6, false, "eckert 6"},
    WorldCrs{"sinusoidal", "Sinusoidal", Keeps::Areas, Method::Sinusoidal, false,
             "sanson flamsteed"},
    WorldCrs{"hammer", "Hammer", Keeps::Areas, Method::Hammer, false, "hammer aitoff"},
    WorldCrs{"homolosine", "Interrupted homolosine", Keeps::Areas, Method::InterruptedHomolosine,
             false, "goode"},
    WorldCrs{"cylindrical-equal-area", "Cylindrical equal-area", Keeps::Areas,
             Method::CylindricalEqualArea, false, "lambert cylindrical"},
    WorldCrs{"azimuthal-equal-area", "Azimuthal equal-area", Keeps::Areas,
             Method::LambertAzimuthalEqualArea, true, "lambert laea hemisphere"},
    WorldCrs{"natural-earth", "Natural Earth", Keeps::Balance, Method::NaturalEarth, false, ""},
    WorldCrs{"robinson", "Robinson", Keeps::Balance, Method::Robinson, false, ""},
    WorldCrs{"winkel-tripel", "Winkel tripel", Keeps::Balance, Method::WinkelTripel, false,
             "winkel iii"},
    WorldCrs{"miller", "Miller cylindrical", Keeps::Balance, Method::Miller, false, ""},
    WorldCrs{"aitoff", "Aitoff", Keeps::Balance, Method::Aitoff, false, ""},
    WorldCrs{"mercator", "Mercator", Keeps::Shapes, Method::MercatorA, false, "navigation"},
    WorldCrs{"plate-carree", "Plate carrée", Keeps::Distances,
             Method::EquidistantCylindricalSpherical, false,
             "plate carree equirectangular simple cylindrical"},
    WorldCrs{"azimuthal-equidistant", "Azimuthal equidistant", Keeps::Distances,
             Method::AzimuthalEquidistant, true, "postel distances from a point"},
};

Result<std::optional<Point>> centreOf(std::string_view text) {
    const auto at = text.find('@');
    if (at == std::string_view::npos) return std::optional<Point>{};
    const std::string_view numbers = text.substr(at + 1);
    const auto comma = numbers.find(',');
    const auto lon = parseNumber(numbers.substr(0, comma));
    const auto lat = comma == std::string_view::npos ? std::optional(0.0)
                                                     : parseNumber(numbers.substr(comma + 1));
    if (!lon || !lat || !(std::abs(*lon) <= 360) || !(std::abs(*lat) <= 90))
        return Error{ErrorCode::BadFormat, std::string(text), "its centre cannot be read",
                     "write it as world:equal-earth@150 or world:azimuthal-equal-area@-10,60"};
    return std::optional(Point{std::remainder(*lon, 360.0), *lat});
}

std::string centreText(const WorldCrs& world, Point centre) {
    std::string out = formatNumber(std::abs(centre.x), {-1, false}) + "°";
    if (centre.x != 0) out += centre.x < 0 ? " W" : " E";
    if (!world.takesLatitude) return out;
    std::string lat = formatNumber(std::abs(centre.y), {-1, false}) + "°";
    if (centre.y != 0) lat += centre.y < 0 ? " S" : " N";
    return lat + " " + out;
}
}  // namespace

std::span<const WorldCrs> worldCrss() { return kAll; }

std::string_view nameOf(Keeps keeps) {
    switch (keeps) {
    case Keeps::Areas: return "equal-area";
    case Keeps::Shapes: return "conformal";
    case Keeps::Distances: return "equidistant";
    case Keeps::Balance: return "compromise";
    }
    return "";
}

const WorldCrs* worldCrs(std::string_view key) {
    if (key.starts_with(kPrefix)) key.remove_prefix(kPrefix.size());
    key = key.substr(0, key.find('@'));
    const auto it =
        std::find_if(kAll.begin(), kAll.end(), [key](const WorldCrs& w) { return w.key == key; });
    return it == kAll.end() ? nullptr : &*it;
}

std::optional<Point> worldCentre(std::string_view text) {
    if (!text.starts_with(kPrefix) || !worldCrs(text)) return {};
    const auto centre = centreOf(text);
    return centre ? centre->value_or(Point{0, 0}) : std::optional<Point>{};
}

std::string worldCrsText(const WorldCrs& world, Point centre) {
    std::string out(kPrefix);
    out += world.key;
    if (centre.x == 0 && (centre.y == 0 || !world.takesLatitude)) return out;
    out += "@" + exactNumber(centre.x);
    if (world.takesLatitude && centre.y != 0) out += "," + exactNumber(centre.y);
    return out;
}

std::optional<std::string> recentred(std::string_view text, Point lonLat) {
    const WorldCrs* world = text.starts_with(kPrefix) ? worldCrs(text) : nullptr;
    if (!world || !lonLat.isFinite()) return {};
    const auto tenth = [](double v) { return std::round(v * 10) / 10 + 0.0; };
    return worldCrsText(*world, {tenth(std::remainder(lonLat.x, 360.0)), tenth(lonLat.y)});
}

Result<CrsPtr> parseWorldCrs(std::string_view text) {
    const WorldCrs* world = worldCrs(text);
    if (!world) {
        std::string known;
        for (const WorldCrs& one : kAll)
            known += (known.empty() ? "" : ", ") + std::string(one.key);
        return Error{ErrorCode::NotFound, std::string(text), "there is no such world CRS",
                     "there are: " + known};
    }
    const auto given = centreOf(text);
    if (!given) return given.error();
    const Point centre = given->value_or(Point{0, 0});
    if (!world->takesLatitude && centre.y != 0)
        return Error{ErrorCode::BadFormat, std::string(text),
                     std::string(world->name) + " is centred on a meridian, not on a point",
                     "give the longitude alone"};
    Crs crs;
    crs.name = std::string(world->name);
    if (centre.x != 0 || centre.y != 0) crs.name += " centred on " + centreText(*world, centre);
    crs.toWgs84 = Helmert{};
    crs.method = world->method;
    crs.parameters.centralMeridian = centre.x;
    if (world->takesLatitude) crs.parameters.latitudeOfOrigin = centre.y;
    if (world->method == Method::WinkelTripel)
        crs.parameters.standardParallel1 = std::acos(2 / kPi) / kRadiansPerDegree;
    // True-scale parallels that spread the distortion over the lands.
    if (world->method == Method::CylindricalEqualArea) crs.parameters.standardParallel1 = 37.5;
    crs.area = AreaOfUse{"World", {-180, -90, 180, 90}};
    if (world->method == Method::MercatorA) crs.area->box = {-180, -84, 180, 84};
    return CrsPtr(std::make_shared<Crs>(std::move(crs)));
}

}  // namespace ledge::crs
