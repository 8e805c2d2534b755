#include "core/crs/crs.h"

#include "core/base/numbers.h"

namespace ledge::crs {

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
    return one->method == other->method && one->parameters == other->parameters &&
           one->unit.size == other->unit.size && one->ellipsoid.hasShapeOf(other->ellipsoid) &&
           one->primeMeridian == other->primeMeridian && one->toWgs84 == other->toWgs84;
}

}  // namespace ledge::crs
