#include "core/base/numbers.h"
#include "core/crs/method_table.h"
#include "core/crs/wkt.h"

namespace ledge::crs {
namespace {
std::string inQuotes(const std::string& text) {
    std::string out = "\"";
    for (const char c : text) out += c == '"' ? std::string("\"\"") : std::string(1, c);
    return out + "\"";
}

// A value as texts give it: in the CRS's own units, longitudes from its prime meridian.
double written(const Crs& crs, const ParameterInfo& parameter) {
    double value = crs.parameters.*parameter.field;
    if (parameter.kind == ParameterKind::Longitude) value -= crs.primeMeridian;
    if (parameter.kind == ParameterKind::Length) return value / crs.unit.size;
    const bool isAngle =
        parameter.kind == ParameterKind::Angle || parameter.kind == ParameterKind::Longitude;
    // Whole degrees in grads and their like: the division may leave a last digit.
    if (isAngle && crs.angularUnit.size != kRadiansPerDegree)
        return value * kRadiansPerDegree / crs.angularUnit.size;
    return value;
}

std::string primeName(const Crs& crs) {
    if (crs.primeMeridian == 0) return "Greenwich";
    const auto open = crs.geographicName.find('('), close = crs.geographicName.find(')');
    if (open != std::string::npos && close != std::string::npos)
        return crs.geographicName.substr(open + 1, close - open - 1);
    return "own";
}

void putUnit(std::string& out, const Unit& unit) {
    out += ",UNIT[" + inQuotes(unit.name) + "," + exactNumber(unit.size) + "]";
}
void putAuthority(std::string& out, int code) {
    if (code != 0) out += ",AUTHORITY[\"EPSG\",\"" + std::to_string(code) + "\"]";
}

std::string geogcs(const Crs& crs) {
    std::string out = "GEOGCS[" + inQuotes(crs.geographicName) + ",DATUM[" + inQuotes(crs.datumName) +
                      ",SPHEROID[" + inQuotes(crs.ellipsoid.name) + "," +
                      exactNumber(crs.ellipsoid.semiMajor) + "," +
                      exactNumber(crs.ellipsoid.inverseFlattening) + "]";
    if (crs.toWgs84) {
        const Helmert& h = *crs.toWgs84;
        out += ",TOWGS84[";
        for (const double v : {h.dx, h.dy, h.dz, h.rx, h.ry, h.rz}) out += exactNumber(v) + ",";
        out += exactNumber(h.ppm) + "]";
    }
    out += "],PRIMEM[" + inQuotes(primeName(crs)) + "," + exactNumber(crs.primeMeridian) + "]";
    putUnit(out, crs.angularUnit);
    putAuthority(out, crs.geographicCode);
    return out + "]";
}

std::string id(int code) {
    return code == 0 ? std::string() : ",ID[\"EPSG\"," + std::to_string(code) + "]";
}
std::string unitText(const char* keyword, const Unit& unit) {
    return std::string(keyword) + "[" + inQuotes(unit.name) + "," + exactNumber(unit.size) + "]";
}

std::string datum2(const Crs& crs, const std::string& indent) {
    std::string out = indent + "DATUM[" + inQuotes(crs.datumName) + ",\n" + indent + "  ELLIPSOID[" +
                      inQuotes(crs.ellipsoid.name) + "," + exactNumber(crs.ellipsoid.semiMajor) +
                      "," + exactNumber(crs.ellipsoid.inverseFlattening) +
                      ",LENGTHUNIT[\"metre\",1]]],\n";
    return out + indent + "PRIMEM[" + inQuotes(primeName(crs)) + "," +
           exactNumber(crs.primeMeridian) + ",ANGLEUNIT[\"degree\",0.017453292519943295]]";
}

std::string usage(const Crs& crs) {
    if (!crs.area) return "";
    const auto lon = [](double v) { return exactNumber(v > 180 ? v - 360 : v); };
    const Box& b = crs.area->box;
    std::string out = ",\n  USAGE[SCOPE[\"unknown\"]";
    if (!crs.area->name.empty()) out += ",AREA[" + inQuotes(crs.area->name) + "]";
    return out + ",BBOX[" + exactNumber(b.yMin) + "," + lon(b.xMin) + "," + exactNumber(b.yMax) +
           "," + lon(b.xMax) + "]]";
}

const char* directionOf(bool isBack, const char* forward, const char* back) {
    return isBack ? back : forward;
}
}  // namespace

std::string toWkt(const Crs& crs) {
    if (crs.isGeographic()) return geogcs(crs);
    const MethodInfo& info = *methodInfo(crs.method);
    std::string out =
        "PROJCS[" + inQuotes(crs.name) + "," + geogcs(crs) + ",PROJECTION[\"" + info.wkt1 + "\"]";
    for (const ParameterInfo& parameter : info.parameters)
        out += ",PARAMETER[\"" + std::string(parameter.wkt1) + "\"," +
               exactNumber(written(crs, parameter)) + "]";
    putUnit(out, crs.unit);
    out += std::string(",AXIS[\"") + directionOf(crs.isWestward, "Easting", "Westing") + "\"," +
           directionOf(crs.isWestward, "EAST", "WEST") + "],AXIS[\"" +
           directionOf(crs.isSouthward, "Northing", "Southing") + "\"," +
           directionOf(crs.isSouthward, "NORTH", "SOUTH") + "]";
    putAuthority(out, crs.code);
    return out + "]";
}

std::string toPlainWkt(const Crs& crs) {
    const auto plain = [](const std::string& name) {
        std::string out;
        for (const char c : name) {
            const bool isPlain = (c >= '0' && c <= '9') || (c >= 'a' && c <= 'z') ||
                                 (c >= 'A' && c <= 'Z') || static_cast<unsigned char>(c) >= 0x80;
            if (isPlain || (c == '-' || c == '+' || c == '.'))
                out += c;
            else if (!out.empty() && out.back() != '_')
                out += '_';
        }
        while (out.ends_with('_')) out.pop_back();
        return inQuotes(out);
    };
    std::string out = "GEOGCS[" + plain(crs.geographicName) + ",DATUM[" + plain(crs.datumName) +
                      ",SPHEROID[" + plain(crs.ellipsoid.name) + "," +
                      exactNumber(crs.ellipsoid.semiMajor) + "," +
                      exactNumber(crs.ellipsoid.inverseFlattening) + "]],PRIMEM[" +
                      plain(primeName(crs)) + "," + exactNumber(crs.primeMeridian) + "],UNIT[" +
                      plain(crs.angularUnit.name) + "," + exactNumber(crs.angularUnit.size) + "]]";
    if (crs.isGeographic()) return out;
    const MethodInfo& info = *methodInfo(crs.method);
    out = "PROJCS[" + plain(crs.name) + "," + out + ",PROJECTION[\"" + info.wkt1 + "\"]";
    for (const ParameterInfo& parameter : info.parameters)
        out += ",PARAMETER[" + plain(std::string(parameter.wkt1)) + "," +
               exactNumber(written(crs, parameter)) + "]";
    return out + ",UNIT[" + plain(crs.unit.name) + "," + exactNumber(crs.unit.size) + "]" +
           (crs.isWestward || crs.isSouthward
                ? std::string(",AXIS[\"") + directionOf(crs.isWestward, "Easting", "Westing") +
                      "\"," + directionOf(crs.isWestward, "EAST", "WEST") + "],AXIS[\"" +
                      directionOf(crs.isSouthward, "Northing", "Southing") + "\"," +
                      directionOf(crs.isSouthward, "NORTH", "SOUTH") + "]"
                : std::string()) +
           "]";
}

std::string toWkt2(const Crs& crs) {
    if (crs.isGeographic())
        return "GEOGCRS[" + inQuotes(crs.name) + ",\n" + datum2(crs, "  ") +
               ",\n  CS[ellipsoidal,2],\n  AXIS[\"longitude (Lon)\",east,ORDER[1]],\n"
               "  AXIS[\"latitude (Lat)\",north,ORDER[2]],\n  " +
               unitText("ANGLEUNIT", crs.angularUnit) + usage(crs) + id(crs.code) + "]";
    const MethodInfo& info = *methodInfo(crs.method);
    std::string out = "PROJCRS[" + inQuotes(crs.name) + ",\n  BASEGEOGCRS[" +
                      inQuotes(crs.geographicName) + ",\n" + datum2(crs, "    ") + ",\n    " +
                      unitText("ANGLEUNIT", crs.angularUnit) + id(crs.geographicCode) +
                      "],\n  CONVERSION[\"" + info.name + "\",\n    METHOD[\"" + info.name + "\"" +
                      id(info.epsg) + "]";
    for (const ParameterInfo& parameter : info.parameters) {
        out += ",\n    PARAMETER[\"" + std::string(parameter.name) + "\"," +
               exactNumber(written(crs, parameter)) + ",";
        switch (parameter.kind) {
        case ParameterKind::Angle:
        case ParameterKind::Longitude: out += unitText("ANGLEUNIT", crs.angularUnit); break;
        case ParameterKind::Length: out += unitText("LENGTHUNIT", crs.unit); break;
        case ParameterKind::Ratio: out += "SCALEUNIT[\"unity\",1]"; break;
        }
        out += id(parameter.epsg) + "]";
    }
    out += std::string("],\n  CS[Cartesian,2],\n  AXIS[\"") +
           directionOf(crs.isWestward, "easting (E)", "westing (W)") + "\"," +
           directionOf(crs.isWestward, "east", "west") + ",ORDER[1]],\n  AXIS[\"" +
           directionOf(crs.isSouthward, "northing (N)", "southing (S)") + "\"," +
           directionOf(crs.isSouthward, "north", "south") + ",ORDER[2]],\n  " +
           unitText("LENGTHUNIT", crs.unit);
    return out + usage(crs) + id(crs.code) + "]";
}

}  // namespace ledge::crs
