#include "core/crs/crs.h"

#include <cmath>

#include "core/base/numbers.h"
#include "core/crs/catalogue.h"
#include "core/crs/datum_names.h"
#include "core/crs/method_table.h"

namespace ledge::crs {
namespace {
bool isNear(double a, double b) { return std::abs(a - b) <= 1e-9 * std::max(1.0, std::abs(a)); }
}  // namespace

bool AreaOfUse::overlaps(const Box& other) const {
    for (const double turn : {0.0, 360.0, -360.0})
        if (box.intersects({other.xMin + turn, other.yMin, other.xMax + turn, other.yMax}))
            return true;
    return false;
}

std::string Crs::shortName() const {
    const auto zone = name.find("UTM zone ");
    const std::string unitLetter = unit.size == 1 ? " · m" : " · " + unit.name;
    if (zone != std::string::npos) return "UTM " + name.substr(zone + 9) + unitLetter;
    if (isGeographic()) return geographicName + " · lat/long";
    const auto slash = name.find(" / ");
    return (slash == std::string::npos ? name : name.substr(slash + 3)) + unitLetter;
}

std::string Crs::kindAndUnit() const {
    if (isGeographic()) return "geographic, degrees";
    return "projected, " + (unit.size == 1 ? std::string("metres") : unit.name);
}

bool isSame(const CrsPtr& one, const CrsPtr& other) {
    if (one == other) return true;
    if (!one || !other) return false;
    if (one->code != 0 && one->code == other->code) return true;
    return hasSameShape(*one, *other) && hasSameDatum(*one, *other);
}

bool hasSameDatum(const Crs& one, const Crs& other) {
    if (one.geographicCode != 0 && one.geographicCode == other.geographicCode) return true;
    const std::string datum = normalisedDatum(one.datumName);
    if (datum != normalisedDatum(other.datumName) ||
        !isNear(one.ellipsoid.semiMajor, other.ellipsoid.semiMajor) ||
        std::abs(one.ellipsoid.inverseFlattening - other.ellipsoid.inverseFlattening) > 1e-6 ||
        std::abs(one.primeMeridian - other.primeMeridian) > 1e-8)
        return false;
    return (!isNamelessDatum(datum) && Catalogue::shipped().knowsDatum(datum)) ||
           one.toWgs84 == other.toWgs84;
}

bool hasSameShape(const Crs& a, const Crs& b) {
    if (a.method != b.method || !isNear(a.ellipsoid.semiMajor, b.ellipsoid.semiMajor) ||
        std::abs(a.ellipsoid.inverseFlattening - b.ellipsoid.inverseFlattening) > 1e-6 ||
        std::abs(a.primeMeridian - b.primeMeridian) > 1e-8 || a.isWestward != b.isWestward ||
        a.isSouthward != b.isSouthward)
        return false;
    const MethodInfo* info = methodInfo(a.method);
    if (!info) return true;
    if (!isNear(a.unit.size, b.unit.size)) return false;
    for (const ParameterInfo& parameter : info->parameters)
        if (!isNear(a.parameters.*parameter.field, b.parameters.*parameter.field)) return false;
    return true;
}

Crs geographicBase(const Crs& crs) {
    Crs base = crs;
    base.name = crs.geographicName;
    base.code = crs.geographicCode;
    base.method = Method::None;
    base.parameters = {};
    base.unit = {};
    base.isWestward = base.isSouthward = false;
    return base;
}

Result<CrsPtr> crsFromCode(int code) { return Catalogue::shipped().byCode(code); }

}  // namespace ledge::crs
