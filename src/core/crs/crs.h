#pragma once
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/crs/datum.h"
#include "core/crs/projection.h"

namespace ledge::crs {

struct DatumOperation;
class DatumChoices;

struct Unit {
    std::string name = "metre";
    double size = 1;  ///< metres, or radians for angles
    bool operator==(const Unit&) const = default;
};

/// Where a definition or an operation is meant to be used: degrees of longitude and latitude. A box
/// over the antimeridian has its east beyond 180.
struct AreaOfUse {
    std::string name;
    Box box;
    bool operator==(const AreaOfUse&) const = default;
    bool contains(Point lonLat) const {
        return box.contains(lonLat) || box.contains({lonLat.x + 360, lonLat.y});
    }
    bool overlaps(const Box& other) const;
    double squareDegrees() const { return box.width() * box.height(); }
};

/// What is to be told about how a CRS was named: a code that was withdrawn, heights left out. No
/// part of what it is, so that it never tells two CRSs apart.
struct Remark {
    std::string text;
    bool operator==(const Remark&) const { return true; }
};

/// A geographic or projected 2D coordinate reference system as a plain value.
/// Coordinates are easting or longitude first whatever the declared axis order: degrees when
/// geographic, `unit` otherwise; westings and southings where the CRS counts those.
struct Crs {
    std::string name;
    int code = 0;  ///< EPSG code, 0 when none is known
    std::string datumName = "World Geodetic System 1984";
    std::string geographicName = "WGS 84";
    int geographicCode = 4326;
    Ellipsoid ellipsoid;
    std::optional<Helmert> toWgs84;  ///< as the definition itself lists it
    double primeMeridian = 0;        ///< degrees from Greenwich
    Unit angularUnit{"degree", kRadiansPerDegree};
    Unit unit;
    Method method = Method::None;
    ProjectionParameters parameters;
    bool isWestward = false, isSouthward = false;  ///< the first counts west, the second south
    std::optional<AreaOfUse> area;
    /// An operation of the user's own from this datum to another; it comes before all others.
    std::shared_ptr<const DatumOperation> ownOperation;
    /// Which operations were chosen between datums; those of either side of a transformation count.
    std::shared_ptr<const DatumChoices> choices;
    Remark remark;

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
/// Whether two CRSs stand on the same datum: by code, or by its name (as normalisedDatum has it),
/// ellipsoid and prime meridian. Where the name is not known, the shifts that texts carry must
/// agree too.
bool hasSameDatum(const Crs& one, const Crs& other);
/// Whether ellipsoid, method, parameters, unit, axes and prime meridian agree within what texts
/// lose by rounding (1e-9 relative, 1e-9 degree).
bool hasSameShape(const Crs& one, const Crs& other);
/// The geographic CRS that a projected one stands on.
Crs geographicBase(const Crs& crs);

/// The shipped definition of an EPSG code. Errors: NotFound, Unsupported with the reason.
Result<CrsPtr> crsFromCode(int code);

/// A CRS by any name that files and services use: "EPSG:n", "n", "urn:ogc:def:crs:EPSG::n",
/// "http://www.opengis.net/def/crs/EPSG/0/n", "OGC:CRS84" and its like (coordinates are longitude
/// first in all of them), a horizontal and a vertical code joined by "+", "world:…" (world_crs.h),
/// a WKT text (WKT1 or WKT2), or "local", which gives null. What was left out or replaced stands in
/// its remark. Errors: BadFormat, NotFound, Unsupported.
Result<CrsPtr> parseCrs(const std::string& text);

}  // namespace ledge::crs
