#pragma once
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/crs/datum.h"
#include "core/crs/projection.h"

namespace ledge::crs {

struct Unit {
    std::string name = "metre";
    double size = 1;  ///< metres, or radians for angles
    bool operator==(const Unit&) const = default;
};

/// A geographic or projected 2D coordinate reference system as a plain value.
/// Coordinates are east then north whatever the declared axis order: degrees when geographic,
/// `unit` otherwise.
struct Crs {
    std::string name;
    int code = 0;  ///< EPSG code, 0 when none is known
    std::string datumName = "World Geodetic System 1984";
    std::string geographicName = "WGS 84";
    int geographicCode = 4326;
    Ellipsoid ellipsoid;
    std::optional<Helmert> toWgs84;  ///< nothing: no operation known
    double primeMeridian = 0;        ///< degrees from Greenwich
    Unit angularUnit{"degree", kRadiansPerDegree};
    Unit unit;
    Method method = Method::None;
    ProjectionParameters parameters;

    bool operator==(const Crs&) const = default;
    bool isGeographic() const { return method == Method::None; }
    /// Size of one coordinate unit in metres; of a degree along the meridian, roughly.
    double metresPerUnit() const { return isGeographic() ? 111319.49079327358 : unit.size; }
    /// Name in few words for chips: "UTM 29N · m".
    std::string shortName() const;
    /// "geographic, degrees" or "projected, metres".
    std::string kindAndUnit() const;
};

/// Shared definition; null means undeclared: plain local coordinates.
using CrsPtr = std::shared_ptr<const Crs>;

/// Whether coordinates in one can be used in the other unchanged.
bool isSame(const CrsPtr& one, const CrsPtr& other);

/// Built-in definitions by EPSG code: WGS 84, ETRS89, their UTM zones, Mercators and common
/// conformal conics. Errors: NotFound.
Result<CrsPtr> crsFromCode(int code);
/// Every code that crsFromCode knows.
std::vector<int> knownCodes();

/// A CRS from "EPSG:n", a WKT1 text or "local". Errors: BadFormat, NotFound, Unsupported.
Result<CrsPtr> parseCrs(const std::string& text);

}  // namespace ledge::crs
