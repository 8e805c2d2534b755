#include "io/geotiff/geo_keys.h"

#include <cmath>
#include <optional>

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
    kOriginScale = 3092,
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

std::optional<Method> methodOf(std::uint16_t code) {
    switch (code) {
    case 1: return Method::TransverseMercator;
    case 7: return Method::MercatorA;
    case 8: return Method::LambertConformalConic2SP;
    case 9: return Method::LambertConformalConic1SP;
    default: return {};
    }
}

std::uint16_t codeOf(Method method) {
    switch (method) {
    case Method::TransverseMercator: return 1;
    case Method::LambertConformalConic2SP: return 8;
    case Method::LambertConformalConic1SP: return 9;
    default: return 7;
    }
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
    case 9002: return {"foot", 0.3048};
    case 9003: return {"US survey foot", 1200.0 / 3937.0};
    case kUserDefined: return {"unit", keys.number(kLinearUnitSize).value_or(1)};
    default: return {"metre", 1};
    }
}

GeoKeys userProjected(const Directory& keys, GeoKeys out) {
    crs::Crs c;
    readGeodetic(keys, c, out.notes);
    const auto method = methodOf(keys.code(kMethod).value_or(0));
    if (!method) {
        out.notes.push_back(
            "the projection in its GeoTIFF keys is not supported; the CRS is undeclared");
        return out;
    }
    c.code = 0;
    c.name = keys.text(kProjectedCitation);
    if (c.name.empty()) c.name = keys.text(kCitation);
    if (c.name.empty()) c.name = "User-defined " + crs::methodName(*method);
    c.method = *method;
    c.unit = linearUnit(keys);
    const auto number = [&](Key one, Key other, double fallback) {
        if (const auto v = keys.number(one)) return *v;
        return keys.number(other).value_or(fallback);
    };
    crs::ProjectionParameters p;
    p.latitudeOfOrigin = number(kOriginLat, kFalseOriginLat, 0);
    p.centralMeridian = number(kOriginLon, kFalseOriginLon, 0) + c.primeMeridian;
    p.scaleFactor = keys.number(kOriginScale).value_or(1);
    p.standardParallel1 = keys.number(kParallel1).value_or(0);
    p.standardParallel2 = keys.number(kParallel2).value_or(0);
    p.falseEasting = number(kFalseEasting, kFalseOriginEasting, 0) * c.unit.size;
    p.falseNorthing = number(kFalseNorthing, kFalseOriginNorthing, 0) * c.unit.size;
    if (c.method == Method::MercatorA && p.standardParallel1 != 0) c.method = Method::MercatorB;
    c.parameters = p;
    if (const auto usable = crs::makeProjection(c.method, p, c.ellipsoid); !usable) {
        out.notes.push_back(usable.error().text() + "; the CRS is undeclared");
        return out;
    }
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
    out.code(kMethod, codeOf(c.method));
    if (c.unit.size == 1) {
        out.code(kLinearUnit, 9001);
    } else {
        out.code(kLinearUnit, kUserDefined);
        out.number(kLinearUnitSize, c.unit.size);
    }
    const crs::ProjectionParameters& p = c.parameters;
    const bool isCone2 = c.method == Method::LambertConformalConic2SP;
    out.number(isCone2 ? kFalseOriginLat : kOriginLat, p.latitudeOfOrigin);
    out.number(isCone2 ? kFalseOriginLon : kOriginLon, p.centralMeridian - c.primeMeridian);
    out.number(isCone2 ? kFalseOriginEasting : kFalseEasting, p.falseEasting / c.unit.size);
    out.number(isCone2 ? kFalseOriginNorthing : kFalseNorthing, p.falseNorthing / c.unit.size);
    if (isCone2 || c.method == Method::MercatorB) out.number(kParallel1, p.standardParallel1);
    if (isCone2)
        out.number(kParallel2, p.standardParallel2);
    else
        out.number(kOriginScale, p.scaleFactor);
}
}  // namespace

GeoKeys readGeoKeys(const GeoKeyTags& tags) {
    GeoKeys out;
    const Directory keys(tags);
    out.pixelIsPoint = keys.code(kRasterType) == 2;
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

GeoKeyTags writeGeoKeys(const crs::Crs& c) {
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
    return out.take();
}

}  // namespace ledge::io
