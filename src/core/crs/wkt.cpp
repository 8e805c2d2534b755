#include "core/crs/wkt.h"

#include <charconv>

#include "core/crs/catalogue.h"
#include "core/crs/method_table.h"
#include "core/crs/wkt_node.h"

namespace ledge::crs {
namespace {
Error unusable(const std::string& what, const std::string& why) {
    return {ErrorCode::BadFormat, "CRS definition (WKT)", what + " " + why,
            "correct the definition"};
}

int epsgCode(const WktNode& node) {
    const WktNode* id = node.child({"AUTHORITY", "ID"});
    if (!id || normalisedName(id->text(0)) != "epsg") return 0;
    const std::string text = id->text(1);
    int code = 0;
    std::from_chars(text.data(), text.data() + text.size(), code);
    return code;
}

// The unit of a node, in WKT1's UNIT or WKT2's named kinds.
const WktNode* unitOf(const WktNode& node, bool isAngle) {
    return isAngle ? node.child({"ANGLEUNIT", "UNIT"}) : node.child({"LENGTHUNIT", "UNIT"});
}

Result<Unit> readUnit(const WktNode& unit) {
    const auto size = unit.number(1);
    if (!size || !(*size > 0) || !std::isfinite(*size))
        return unusable("UNIT \"" + unit.text(0) + "\"", "has no positive size");
    Unit out{unit.text(0), *size};
    if (std::abs(out.size - kRadiansPerDegree) < 1e-14) out = {"degree", kRadiansPerDegree};
    if (normalisedName(out.name) == "meter") out.name = "metre";
    return out;
}

bool isToday(const std::string& datum) {
    const std::string n = normalisedName(datum);
    return n.find("wgs1984") != std::string::npos || n == "wgs84" ||
           n.starts_with("worldgeodeticsystem1984") || n.find("etrs") != std::string::npos ||
           n.starts_with("europeanterrestrialreferencesystem1989");
}

Result<void> readDatum(const WktNode& base, Crs& crs) {
    const WktNode* datum = base.child({"DATUM", "GEODETICDATUM", "TRF", "ENSEMBLE"});
    const WktNode* spheroid = datum ? datum->child({"SPHEROID", "ELLIPSOID"}) : nullptr;
    if (!spheroid) return unusable(base.keyword, "has no DATUM with an ellipsoid");
    const auto axis = spheroid->number(1), flattening = spheroid->number(2);
    double metre = 1;
    if (const WktNode* unit = unitOf(*spheroid, false)) metre = unit->number(1).value_or(1);
    if (!axis || !flattening || !(*axis * metre > 1) || !std::isfinite(*axis))
        return unusable("ellipsoid \"" + spheroid->text(0) + "\"",
                        "has no usable axis and flattening");
    crs.geographicName = base.text(0);
    crs.geographicCode = epsgCode(base);
    crs.datumName = datum->text(0);
    crs.ellipsoid = {spheroid->text(0), *axis * metre, *flattening};
    crs.toWgs84.reset();
    if (const WktNode* shift = datum->child({"TOWGS84"})) {
        Helmert h;
        double* const fields[] = {&h.dx, &h.dy, &h.dz, &h.rx, &h.ry, &h.rz, &h.ppm};
        for (std::size_t i = 0; i < 7 && i < shift->values.size(); ++i)
            *fields[i] = shift->number(i).value_or(0);
        crs.toWgs84 = h;
    } else if (isToday(crs.datumName)) {
        crs.toWgs84 = Helmert{};
    }
    const bool isSecond = base.keyword != "GEOGCS";
    const WktNode* unit = unitOf(base, true);
    if (!unit)
        if (const WktNode* first = base.child({"AXIS"})) unit = unitOf(*first, true);
    if (unit) {
        const auto read = readUnit(*unit);
        if (!read) return read.error();
        crs.angularUnit = *read;
    }
    // WKT1 texts in use give prime meridians in degrees; WKT2 says the unit there.
    if (const WktNode* prime = base.child({"PRIMEM", "PRIMEMERIDIAN"})) {
        crs.primeMeridian = prime->number(1).value_or(0);
        const WktNode* primeUnit = unitOf(*prime, true);
        if (isSecond)
            crs.primeMeridian *= (primeUnit ? primeUnit->number(1).value_or(kRadiansPerDegree)
                                            : crs.angularUnit.size) /
                                 kRadiansPerDegree;
        if (!(std::abs(crs.primeMeridian) <= 360)) return unusable("PRIMEM", "is not a longitude");
    }
    return {};
}

// Axes that count west or south; for the methods where texts leave it out, as the method says.
void readAxes(const WktNode& root, Crs& crs) {
    bool hasAxis = false;
    for (const WktNode& node : root.children) {
        if (node.keyword != "AXIS") continue;
        hasAxis = true;
        std::string direction = normalisedName(node.text(1));
        if (direction == "west") crs.isWestward = true;
        if (direction == "south" && node.child({"MERIDIAN"}) == nullptr) crs.isSouthward = true;
    }
    // Both axes of a polar map point north or south; they are no grid counted backwards.
    if (crs.method == Method::PolarStereographicA || crs.method == Method::PolarStereographicB ||
        crs.method == Method::PolarStereographicC ||
        crs.method == Method::LambertAzimuthalEqualArea)
        crs.isWestward = crs.isSouthward = false;
    const MethodInfo* info = methodInfo(crs.method);
    if (hasAxis || !info) return;
    crs.isWestward = info->isWestward;
    crs.isSouthward = info->isSouthward;
}

struct Given {
    std::vector<std::string> names;
    std::vector<std::pair<double ProjectionParameters::*, double>> values;
};

// Parameters with WKT2's own units turned into those of the CRS.
Result<Given> readParameters(const WktNode& conversion, const Crs& crs) {
    Given out;
    for (const WktNode& node : conversion.children) {
        if (node.keyword != "PARAMETER") continue;
        auto value = node.number(1);
        if (!value || !std::isfinite(*value))
            return unusable("PARAMETER \"" + node.text(0) + "\"", "has no number");
        if (const WktNode* unit = node.child({"ANGLEUNIT"}))
            *value *= unit->number(1).value_or(1) / crs.angularUnit.size;
        if (const WktNode* unit = node.child({"LENGTHUNIT"}))
            *value *= unit->number(1).value_or(1) / crs.unit.size;
        const std::string name = normalisedName(node.text(0));
        double ProjectionParameters::*field = fieldFromEpsg(epsgCode(node));
        if (!field) field = fieldFromName(name);
        out.names.push_back(field == &ProjectionParameters::standardParallel1 ? "standardparallel1"
                            : field == &ProjectionParameters::standardParallel2
                                ? "standardparallel2"
                                : name);
        out.values.emplace_back(field, *value);
    }
    return out;
}

Result<void> readProjection(const WktNode& root, Crs& crs) {
    const WktNode* conversion = root.child({"CONVERSION", "DERIVINGCONVERSION"});
    const WktNode& holder = conversion ? *conversion : root;
    const WktNode* method = holder.child({"PROJECTION", "METHOD"});
    if (!method) return unusable(root.keyword, "has no projection method");
    const WktNode* unit = unitOf(root, false);
    if (!unit)
        if (const WktNode* axis = root.child({"AXIS"})) unit = unitOf(*axis, false);
    if (unit) {
        const auto read = readUnit(*unit);
        if (!read) return read.error();
        crs.unit = *read;
    }
    const auto given = readParameters(holder, crs);
    if (!given) return given.error();
    std::string name = method->text(0);
    for (const MethodInfo& info : methods())
        if (info.epsg != 0 && epsgCode(*method) == info.epsg) name = info.name;
    if (const auto done = setProjection(crs, name, given->names, given->values); !done)
        return done.error();
    if (const auto usable = makeProjection(crs.method, crs.parameters, crs.ellipsoid); !usable)
        return usable.error();
    // A sign of its own: in Krovak's WKT1 texts the axes alone tell the two grids apart.
    crs.isWestward = crs.isSouthward = false;
    readAxes(root, crs);
    return {};
}

CrsPtr matched(Crs crs) {
    const Catalogue& catalogue = Catalogue::shipped();
    crs.geographicCode = catalogue.usedFor(crs.geographicCode);
    // A code is believed only when the definition is that of the code.
    if (crs.code != 0) {
        if (const auto known = catalogue.byCode(crs.code)) {
            Crs turned = crs;  // axes are often left out of texts
            turned.isWestward = (*known)->isWestward;
            turned.isSouthward = (*known)->isSouthward;
            if (hasSameShape(**known, turned) &&
                (crs.geographicCode == 0 || crs.geographicCode == (*known)->geographicCode))
                return *known;
        }
    }
    if (CrsPtr known = catalogue.match(crs)) return known;
    // Shifts that the text carries serve only where its datum is not known.
    if (crs.geographicCode == 0 || !catalogue.entry(crs.geographicCode)) {
        crs.geographicCode = 0;
        if (const CrsPtr base = catalogue.match(geographicBase(crs))) {
            crs.geographicCode = base->code;
            crs.geographicName = base->name;
            crs.datumName = base->datumName;
            crs.toWgs84 = base->toWgs84;
        }
    }
    return std::make_shared<Crs>(std::move(crs));
}

Result<Crs> readCrs(const WktNode& root) {
    Crs crs;
    crs.name = root.text(0);
    crs.code = epsgCode(root);
    const std::string& k = root.keyword;
    if (k == "GEOGCS" || k == "GEOGCRS" || k == "GEOGRAPHICCRS" || k == "GEODCRS" ||
        k == "GEODETICCRS") {
        if (const WktNode* system = root.child({"CS"});
            system && normalisedName(system->text(0)) == "cartesian")
            return Error{ErrorCode::Unsupported, "CRS definition (WKT)",
                         "\"" + crs.name + "\" is geocentric, without longitude and latitude",
                         "give a geographic or projected CRS"};
        if (const auto done = readDatum(root, crs); !done) return done.error();
        if (crs.name.starts_with("GCS_")) crs.name.erase(0, 4);
        crs.geographicName = crs.name;
        if (crs.geographicCode == 0) crs.geographicCode = crs.code;
        const WktNode* system = root.child({"CS"});
        if (system && system->number(1).value_or(2) == 3)
            crs.remark = {"\"" + crs.name +
                          "\" has heights above the ellipsoid, which are taken as "
                          "they are; longitude and latitude are used"};
        return crs;
    }
    if (k != "PROJCS" && k != "PROJCRS" && k != "PROJECTEDCRS")
        return Error{ErrorCode::Unsupported, "CRS definition (WKT)",
                     k + " is not a geographic or projected CRS",
                     "give the text of a geographic or projected CRS, or EPSG:n"};
    const WktNode* base = root.child({"GEOGCS", "BASEGEOGCRS", "BASEGEODCRS"});
    if (!base) return unusable(k, "has no geographic CRS inside");
    if (const auto done = readDatum(*base, crs); !done) return done.error();
    if (const auto done = readProjection(root, crs); !done) return done.error();
    return crs;
}

// ISO 19162 7.5: a CRS bound to a shift to another one.
Result<Crs> readBound(const WktNode& root) {
    const WktNode* source = root.child({"SOURCECRS"});
    if (!source || source->children.empty()) return unusable("BOUNDCRS", "has no SOURCECRS");
    auto crs = readCrs(source->children.front());
    if (!crs) return crs;
    if (const WktNode* shift = root.child({"ABRIDGEDTRANSFORMATION"})) {
        Helmert h;
        const WktNode* method = shift->child({"METHOD"});
        const std::string name = method ? normalisedName(method->text(0)) : "";
        const double sign = name.find("coordinateframe") != std::string::npos ? -1 : 1;
        for (const WktNode& node : shift->children) {
            const std::string parameter = normalisedName(node.text(0));
            const double value = node.number(1).value_or(0);
            if (parameter == "xaxistranslation") h.dx = value;
            if (parameter == "yaxistranslation") h.dy = value;
            if (parameter == "zaxistranslation") h.dz = value;
            if (parameter == "xaxisrotation") h.rx = sign * value;
            if (parameter == "yaxisrotation") h.ry = sign * value;
            if (parameter == "zaxisrotation") h.rz = sign * value;
            // Abridged: the scale itself, not its difference in ppm.
            if (parameter == "scaledifference")
                h.ppm = std::abs(value - 1) < 0.01 ? (value - 1) * 1e6 : value;
        }
        crs->toWgs84 = h;
    }
    return crs;
}
}  // namespace

namespace {
// The horizontal part of a compound CRS; the vertical one is told, its heights are taken as they
// are.
Result<Crs> readAny(const WktNode& root, int depth = 0) {
    if (root.keyword == "BOUNDCRS") return readBound(root);
    if (root.keyword != "COMPD_CS" && root.keyword != "COMPOUNDCRS") return readCrs(root);
    constexpr int kDeepest = 4;
    std::string vertical;
    const WktNode* horizontal = nullptr;
    for (const WktNode& part : root.children) {
        if (part.keyword == "VERT_CS" || part.keyword == "VERTCRS" || part.keyword == "VERTICALCRS")
            vertical = part.text(0);
        else if (!horizontal && part.keyword != "ID" && part.keyword != "AUTHORITY")
            horizontal = &part;
    }
    if (!horizontal || depth > kDeepest) return unusable(root.keyword, "has no horizontal CRS");
    auto crs = readAny(*horizontal, depth + 1);
    if (crs)
        crs->remark = {"\"" + root.text(0) + "\" is compound: its horizontal part is used" +
                       (vertical.empty()
                            ? std::string()
                            : ", and heights in " + vertical + " are taken as they are")};
    return crs;
}
}  // namespace

Result<CrsPtr> crsFromWkt(const std::string& text) {
    const auto root = parseWkt(text);
    if (!root) return root.error();
    auto crs = readAny(*root);
    if (!crs) return crs.error();
    const Remark remark = crs->remark;
    CrsPtr known = matched(*std::move(crs));
    if (remark.text.empty() || known->remark.text == remark.text) return known;
    auto remarked = std::make_shared<Crs>(*known);
    remarked->remark = remark;
    return CrsPtr(std::move(remarked));
}

}  // namespace ledge::crs
