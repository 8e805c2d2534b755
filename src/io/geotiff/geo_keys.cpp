#include "io/geotiff/geo_keys.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

#include "core/crs/catalogue.h"

namespace ledge::io {
namespace {
using crs::Method;

enum Key : std::uint16_t {
    kModelType = 1024,
    kRasterType = 1025,
    kCitation = 1026,
    kGeodeticCode = 2048,
    kGeodeticCitation = 2049,
    kDatum = 2050,
    kAngularUnit = 2054,
    kEllipsoid = 2056,
    kSemiMajor = 2057,
    kInverseFlattening = 2059,
    kPrimeMeridian = 2061,
    kProjectedCode = 3072,
    kProjectedCitation = 3073,
    kProjection = 3074,
    kMethod = 3075,
    kLinearUnit = 3076,
    kLinearUnitSize = 3077,
    kVerticalUnit = 4099,
    kParallel1 = 3078,
    kParallel2 = 3079,
    kOriginLon = 3080,
    kOriginLat = 3081,
    kFalseEasting = 3082,
    kFalseNorthing = 3083,
    kFalseOriginLon = 3084,
    kFalseOriginLat = 3085,
    kFalseOriginEasting = 3086,
    kFalseOriginNorthing = 3087,
    kCentreLon = 3088,
    kCentreLat = 3089,
    kCentreEasting = 3090,
    kCentreNorthing = 3091,
    kOriginScale = 3092,
    kCentreScale = 3093,
    kAzimuth = 3094,
    kPoleLon = 3095,
    kRectifiedGridAngle = 3096,
};
constexpr std::uint16_t kUserDefined = 32767;
constexpr std::uint16_t kDoublesTag = 34736, kAsciiTag = 34737;

class Directory {
public:
    explicit Directory(const GeoKeyTags& tags) : m_tags(tags) {
        const auto& d = tags.directory;
        if (d.size() < 4) return;
        for (std::size_t i = 4; i + 3 < d.size() && (i - 4) / 4 < d[3]; i += 4) m_entries[d[i]] = i;
    }
    std::optional<std::uint16_t> code(Key key) const {
        const auto it = m_entries.find(key);
        if (it == m_entries.end() || m_tags.directory[it->second + 1] != 0) return {};
        return m_tags.directory[it->second + 3];
    }
    std::optional<double> number(Key key) const {
        const auto it = m_entries.find(key);
        if (it == m_entries.end() || m_tags.directory[it->second + 1] != kDoublesTag) return {};
        const std::size_t at = m_tags.directory[it->second + 3];
        if (at >= m_tags.doubles.size()) return {};
        return m_tags.doubles[at];
    }
    std::string text(Key key) const {
        const auto it = m_entries.find(key);
        if (it == m_entries.end() || m_tags.directory[it->second + 1] != kAsciiTag) return {};
        const std::size_t count = m_tags.directory[it->second + 2];
        const std::size_t at = m_tags.directory[it->second + 3];
        if (at >= m_tags.ascii.size()) return {};
        std::string out = m_tags.ascii.substr(at, count);
        while (!out.empty() && (out.back() == '|' || out.back() == '\0')) out.pop_back();
        return out;
    }

private:
    const GeoKeyTags& m_tags;
    std::map<std::uint16_t, std::size_t> m_entries;
};

using P = crs::ProjectionParameters;

// Keys that the standard gives a method's parameters; the first is written, all are read, because
// writers differ.
struct KeyOfField {
    double P::*field;
    Key key;
};
struct MethodCode {
    std::uint16_t code;  ///< ProjCoordTransGeoKey
    Method method;
    std::vector<KeyOfField> keys;
};
const std::vector<MethodCode>& methodCodes() {
    const KeyOfField lat{&P::latitudeOfOrigin, kOriginLat}, lon{&P::centralMeridian, kOriginLon};
    const KeyOfField east{&P::falseEasting, kFalseEasting},
        north{&P::falseNorthing, kFalseNorthing};
    const KeyOfField scale{&P::scaleFactor, kOriginScale};
    const KeyOfField first{&P::standardParallel1, kParallel1};
    const KeyOfField second{&P::standardParallel2, kParallel2};
    const KeyOfField midLat{&P::latitudeOfOrigin, kCentreLat};
    const KeyOfField midLon{&P::centralMeridian, kCentreLon};
    const KeyOfField midScale{&P::scaleFactor, kCentreScale};
    const KeyOfField azimuth{&P::azimuth, kAzimuth},
        skew{&P::rectifiedGridAngle, kRectifiedGridAngle};
    const KeyOfField poleLon{&P::centralMeridian, kPoleLon};
    const KeyOfField offLat{&P::latitudeOfOrigin, kFalseOriginLat};
    const KeyOfField offLon{&P::centralMeridian, kFalseOriginLon};
    const KeyOfField offEast{&P::falseEasting, kFalseOriginEasting};
    const KeyOfField offNorth{&P::falseNorthing, kFalseOriginNorthing};
    const KeyOfField midEast{&P::falseEasting, kCentreEasting};
    const KeyOfField midNorth{&P::falseNorthing, kCentreNorthing};
    static const std::vector<MethodCode> codes{
        {1, Method::TransverseMercator, {lat, lon, scale, east, north}},
        {3,
         Method::HotineObliqueMercatorB,
         {midLat, midLon, azimuth, skew, midScale, midEast, midNorth}},
        {3, Method::HotineObliqueMercatorA, {midLat, midLon, azimuth, skew, midScale, east, north}},
        {5, Method::SwissObliqueMercator, {midLat, midLon, midScale, midEast, midNorth}},
        {7, Method::MercatorA, {lat, lon, scale, east, north}},
        {7, Method::MercatorB, {first, lon, east, north}},
        {8, Method::LambertConformalConic2SP, {offLat, offLon, first, second, offEast, offNorth}},
        {9, Method::LambertConformalConic1SP, {lat, lon, scale, east, north}},
        {10, Method::LambertAzimuthalEqualArea, {midLat, midLon, east, north}},
        {11, Method::AlbersEqualArea, {first, second, lat, lon, east, north}},
        {12, Method::AzimuthalEquidistant, {midLat, midLon, east, north}},
        {13, Method::EquidistantConic, {first, second, lat, lon, east, north}},
        {15, Method::PolarStereographicA, {lat, poleLon, scale, east, north}},
        {15,
         Method::PolarStereographicB,
         {{&P::standardParallel1, kOriginLat}, poleLon, east, north}},
        {16, Method::ObliqueStereographic, {lat, lon, scale, east, north}},
        {17, Method::EquidistantCylindrical, {first, midLat, midLon, east, north}},
        {18, Method::CassiniSoldner, {lat, lon, east, north}},
        {19, Method::Gnomonic, {midLat, midLon, east, north}},
        {20, Method::Miller, {midLon, east, north}},
        {21, Method::Orthographic, {midLat, midLon, east, north}},
        {22, Method::AmericanPolyconic, {lat, lon, east, north}},
        {23, Method::Robinson, {midLon, east, north}},
        {24, Method::Sinusoidal, {midLon, east, north}},
        {25, Method::VanDerGrinten, {midLon, east, north}},
        {26, Method::NewZealandMapGrid, {lat, lon, east, north}},
        {27, Method::TransverseMercatorSouth, {lat, lon, scale, east, north}},
        {28, Method::CylindricalEqualArea, {first, lon, east, north}},
    };
    return codes;
}

const MethodCode* codeOf(Method method) {
    for (const MethodCode& m : methodCodes())
        if (m.method == method) return &m;
    return nullptr;
}

// Other keys that writers use for a field.
double readField(const Directory& keys, double P::*field, Key own) {
    std::vector<Key> candidates{own};
    if (field == &P::latitudeOfOrigin)
        candidates.insert(candidates.end(), {kOriginLat, kCentreLat, kFalseOriginLat});
    if (field == &P::centralMeridian)
        candidates.insert(candidates.end(), {kOriginLon, kCentreLon, kFalseOriginLon, kPoleLon});
    if (field == &P::scaleFactor) candidates.insert(candidates.end(), {kOriginScale, kCentreScale});
    if (field == &P::falseEasting)
        candidates.insert(candidates.end(), {kFalseEasting, kFalseOriginEasting, kCentreEasting});
    if (field == &P::falseNorthing)
        candidates.insert(candidates.end(),
                          {kFalseNorthing, kFalseOriginNorthing, kCentreNorthing});
    for (const Key key : candidates)
        if (const auto v = keys.number(key)) return *v;
    return field == &P::scaleFactor ? 1 : 0;
}

// The geographic part: by code, or from the ellipsoid's keys.
void readGeodetic(const Directory& keys, crs::Crs& out, std::vector<std::string>& notes) {
    const auto code = keys.code(kGeodeticCode);
    if (code && *code != kUserDefined) {
        if (const auto known = crs::crsFromCode(*code)) {
            out = **known;
            return;
        }
        notes.push_back("the datum of EPSG:" + std::to_string(*code) +
                        " is not built in; its ellipsoid is taken from the keys");
    }
    out.geographicCode = 0;
    out.toWgs84.reset();
    out.geographicName = keys.text(kGeodeticCitation);
    if (out.geographicName.empty()) out.geographicName = "unnamed";
    out.datumName = out.geographicName;
    const double axis = keys.number(kSemiMajor).value_or(6378137.0);
    const double flattening = keys.number(kInverseFlattening).value_or(298.257223563);
    const auto ellipsoid = keys.code(kEllipsoid);
    out.ellipsoid = {"from keys", axis, flattening};
    if (ellipsoid == 7030 || (!ellipsoid && !keys.number(kSemiMajor)))
        out.ellipsoid = {"WGS 84", 6378137.0, 298.257223563};
    else if (ellipsoid == 7019)
        out.ellipsoid = {"GRS 1980", 6378137.0, 298.257222101};
    if (keys.code(kDatum) == 6326) out.toWgs84 = crs::Helmert{};
    out.primeMeridian = keys.number(kPrimeMeridian).value_or(0);
}

crs::Unit linearUnit(const Directory& keys) {
    switch (keys.code(kLinearUnit).value_or(9001)) {
    case 9002: return {"foot", kMetresPerFoot};
    case 9003: return {"US survey foot", 1200.0 / 3937.0};
    case kUserDefined: return {"unit", keys.number(kLinearUnitSize).value_or(1)};
    default: return {"metre", 1};
    }
}

GeoKeys userProjected(const Directory& keys, GeoKeys out) {
    crs::Crs c;
    readGeodetic(keys, c, out.notes);
    const std::uint16_t wanted = keys.code(kMethod).value_or(0);
    const auto& codes = methodCodes();
    auto method = std::find_if(codes.begin(), codes.end(),
                               [wanted](const MethodCode& m) { return m.code == wanted; });
    // The same code serves variants; what the keys hold tells them apart.
    if (wanted == 3 && !keys.number(kCentreEasting)) ++method;
    if (wanted == 7 && keys.number(kParallel1).value_or(0) != 0) ++method;
    if (wanted == 15 && std::abs(readField(keys, &P::latitudeOfOrigin, kOriginLat)) < 90) ++method;
    if (method == codes.end()) {
        out.notes.push_back(
            "the projection in its GeoTIFF keys is not supported; the CRS is undeclared");
        return out;
    }
    c.code = 0;
    c.name = keys.text(kProjectedCitation);
    if (c.name.empty()) c.name = keys.text(kCitation);
    if (c.name.empty()) c.name = "User-defined " + crs::methodName(method->method);
    c.method = method->method;
    c.unit = linearUnit(keys);
    P p;
    for (const KeyOfField& one : method->keys) p.*one.field = readField(keys, one.field, one.key);
    if (!keys.number(kRectifiedGridAngle)) p.rectifiedGridAngle = p.azimuth;
    p.centralMeridian += c.primeMeridian;
    p.falseEasting *= c.unit.size;
    p.falseNorthing *= c.unit.size;
    c.parameters = p;
    c.isWestward = c.isSouthward = c.method == Method::TransverseMercatorSouth;
    if (const auto usable = crs::makeProjection(c.method, p, c.ellipsoid); !usable) {
        out.notes.push_back(usable.error().text() + "; the CRS is undeclared");
        return out;
    }
    if (const crs::CrsPtr known = crs::Catalogue::shipped().match(c))
        out.crs = known;
    else
        out.crs = std::make_shared<crs::Crs>(std::move(c));
    return out;
}

class Builder {
public:
    void code(Key key, std::uint16_t value) { entry(key, 0, 1, value); }
    void number(Key key, double value) {
        entry(key, kDoublesTag, 1, static_cast<std::uint16_t>(m_tags.doubles.size()));
        m_tags.doubles.push_back(value);
    }
    void text(Key key, const std::string& value) {
        const std::string stored = value + "|";
        entry(key, kAsciiTag, static_cast<std::uint16_t>(stored.size()),
              static_cast<std::uint16_t>(m_tags.ascii.size()));
        m_tags.ascii += stored;
    }
    GeoKeyTags take() {
        m_tags.directory = {1, 1, 1, static_cast<std::uint16_t>(m_entries.size())};
        for (const auto& [key, e] : m_entries)
            m_tags.directory.insert(m_tags.directory.end(), {key, e[0], e[1], e[2]});
        return std::move(m_tags);
    }

private:
    void entry(Key key, std::uint16_t tag, std::uint16_t count, std::uint16_t value) {
        m_entries[key] = {tag, count, value};
    }
    GeoKeyTags m_tags;
    std::map<std::uint16_t, std::array<std::uint16_t, 3>> m_entries;  // keys must ascend
};

void writeGeodetic(Builder& out, const crs::Crs& c) {
    out.code(kAngularUnit, 9102);
    if (c.geographicCode != 0) {
        out.code(kGeodeticCode, static_cast<std::uint16_t>(c.geographicCode));
        return;
    }
    out.code(kGeodeticCode, kUserDefined);
    out.text(kGeodeticCitation, c.geographicName);
    out.code(kDatum, kUserDefined);
    out.code(kEllipsoid, kUserDefined);
    out.number(kSemiMajor, c.ellipsoid.semiMajor);
    out.number(kInverseFlattening, c.ellipsoid.inverseFlattening);
    out.number(kPrimeMeridian, c.primeMeridian);
}

void writeProjection(Builder& out, const crs::Crs& c) {
    out.code(kProjectedCode, kUserDefined);
    out.text(kProjectedCitation, c.name);
    out.code(kProjection, kUserDefined);
    const MethodCode& method = *codeOf(c.method);
    out.code(kMethod, method.code);
    if (c.unit.size == 1) {
        out.code(kLinearUnit, 9001);
    } else {
        out.code(kLinearUnit, kUserDefined);
        out.number(kLinearUnitSize, c.unit.size);
    }
    for (const KeyOfField& one : method.keys) {
        double value = c.parameters.*one.field;
        if (one.field == &P::centralMeridian) value -= c.primeMeridian;
        if (one.field == &P::falseEasting || one.field == &P::falseNorthing) value /= c.unit.size;
        out.number(one.key, value);
    }
}
}  // namespace

GeoKeys readGeoKeys(const GeoKeyTags& tags) {
    GeoKeys out;
    const Directory keys(tags);
    out.pixelIsPoint = keys.code(kRasterType) == 2;
    if (const auto unit = keys.code(kVerticalUnit)) {
        if (*unit == 9001) out.heightUnit = "metre";
        if (*unit == 9002 || *unit == 9003) out.heightUnit = "foot";
    }
    const auto model = keys.code(kModelType);
    if (model == 2) {
        crs::Crs c;
        readGeodetic(keys, c, out.notes);
        if (c.name.empty()) c.name = c.geographicName;
        out.crs = std::make_shared<crs::Crs>(std::move(c));
    } else if (model == 1) {
        const auto code = keys.code(kProjectedCode);
        if (!code || *code == kUserDefined) return userProjected(keys, std::move(out));
        const auto known = crs::crsFromCode(*code);
        if (known)
            out.crs = *known;
        else
            out.notes.push_back("EPSG:" + std::to_string(*code) +
                                " is not built in; declare the CRS from its WKT text");
    }
    return out;
}

bool hasGeoKeys(const crs::Crs& c) {
    return c.isGeographic() || (c.code != 0 && c.code < kUserDefined) || codeOf(c.method);
}

GeoKeyTags writeGeoKeys(const crs::Crs& c, const std::string& heightUnit) {
    Builder out;
    out.code(kModelType, c.isGeographic() ? 2 : 1);
    out.code(kRasterType, 1);
    out.text(kCitation, c.name);
    writeGeodetic(out, c);
    if (!c.isGeographic()) {
        if (c.code != 0 && c.code < kUserDefined)
            out.code(kProjectedCode, static_cast<std::uint16_t>(c.code));
        else
            writeProjection(out, c);
    }
    if (heightUnit == "metre") out.code(kVerticalUnit, 9001);
    if (heightUnit == "foot") out.code(kVerticalUnit, 9002);
    return out.take();
}

}  // namespace ledge::io
