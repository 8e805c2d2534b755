#include <charconv>
#include <vector>

#include "core/base/numbers.h"
#include "core/crs/crs.h"
#include "core/crs/wkt.h"

namespace ledge::crs {
namespace {

struct Base {
    int code;
    const char* name;
    const char* datum;
    const char* ellipsoid;
    double inverseFlattening;
};
constexpr Base kWgs84{4326, "WGS 84", "World Geodetic System 1984", "WGS 84", 298.257223563};
constexpr Base kEtrs89{4258, "ETRS89", "European Terrestrial Reference System 1989", "GRS 1980",
                       298.257222101};

Crs geographic(const Base& base) {
    Crs crs;
    crs.name = crs.geographicName = base.name;
    crs.code = crs.geographicCode = base.code;
    crs.datumName = base.datum;
    crs.ellipsoid = {base.ellipsoid, 6378137.0, base.inverseFlattening};
    crs.toWgs84 = Helmert{};
    return crs;
}

Crs projected(const Base& base, int code, std::string name, Method method,
              ProjectionParameters parameters) {
    Crs crs = geographic(base);
    crs.code = code;
    crs.name = std::move(name);
    crs.method = method;
    crs.parameters = parameters;
    return crs;
}

Crs utm(const Base& base, int code, int zone, bool isSouth) {
    ProjectionParameters p;
    p.centralMeridian = zone * 6 - 183;
    p.scaleFactor = 0.9996;
    p.falseEasting = 500000;
    p.falseNorthing = isSouth ? 10000000 : 0;
    return projected(base, code,
                     std::string(base.name) + " / UTM zone " + std::to_string(zone) +
                         (isSouth ? "S" : "N"),
                     Method::TransverseMercator, p);
}

ProjectionParameters cone(double lat0, double lon0, double sp1, double sp2, double fe, double fn) {
    return {lat0, lon0, 1, sp1, sp2, fe, fn};
}

std::optional<Crs> single(int code) {
    switch (code) {
    case 4326: return geographic(kWgs84);
    case 4258: return geographic(kEtrs89);
    case 3857: return projected(kWgs84, code, "WGS 84 / Pseudo-Mercator", Method::WebMercator, {});
    case 3395: return projected(kWgs84, code, "WGS 84 / World Mercator", Method::MercatorA, {});
    case 3994:
        return projected(kWgs84, code, "WGS 84 / Mercator 41", Method::MercatorB,
                         {0, 100, 1, -41, 0, 0, 0});
    case 3034:
        return projected(kEtrs89, code, "ETRS89-extended / LCC Europe",
                         Method::LambertConformalConic2SP, cone(52, 10, 35, 65, 4000000, 2800000));
    default: return {};
    }
}
constexpr int kSingles[] = {4326, 4258, 3857, 3395, 3994, 3034};

std::optional<Crs> zoned(int code) {
    const auto within = [code](int first, int low, int high) {
        return code >= first + low && code <= first + high;
    };
    if (within(32600, 1, 60)) return utm(kWgs84, code, code - 32600, false);
    if (within(32700, 1, 60)) return utm(kWgs84, code, code - 32700, true);
    if (within(25800, 28, 38)) return utm(kEtrs89, code, code - 25800, false);
    return {};
}

}  // namespace

Result<CrsPtr> crsFromCode(int code) {
    auto found = single(code);
    if (!found) found = zoned(code);
    if (!found)
        return Error{ErrorCode::NotFound, "EPSG:" + std::to_string(code), "no such CRS is built in",
                     "give its definition as WKT, for example @file.prj"};
    return CrsPtr(std::make_shared<Crs>(*std::move(found)));
}

std::vector<int> knownCodes() {
    std::vector<int> codes(std::begin(kSingles), std::end(kSingles));
    for (int zone = 1; zone <= 60; ++zone) {
        codes.push_back(32600 + zone);
        codes.push_back(32700 + zone);
        if (zone >= 28 && zone <= 38) codes.push_back(25800 + zone);
    }
    return codes;
}

Result<CrsPtr> parseCrs(const std::string& text) {
    const std::string lower = lowered(trimmed(text));
    if (lower.empty() || lower == "local") return CrsPtr{};
    if (lower.starts_with("epsg:")) {
        int code = 0;
        const auto [end, failed] =
            std::from_chars(lower.data() + 5, lower.data() + lower.size(), code);
        if (failed != std::errc{} || end != lower.data() + lower.size())
            return Error{ErrorCode::BadFormat, text, "not an EPSG code", "write it as EPSG:32629"};
        return crsFromCode(code);
    }
    if (lower.find('[') == std::string::npos && lower.find('(') == std::string::npos)
        return Error{ErrorCode::BadFormat, text, "not a CRS", "write EPSG:n or give a WKT text"};
    return crsFromWkt(text);
}

}  // namespace ledge::crs
