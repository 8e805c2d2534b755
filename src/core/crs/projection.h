#pragma once
#include <memory>
#include <span>
#include <string>

#include "core/base/result.h"
#include "core/crs/ellipsoid.h"

namespace ledge::crs {

enum class Method {
    None,  ///< geographic coordinates stay as they are
    TransverseMercator,
    MercatorA,  ///< one parallel with a scale factor
    MercatorB,  ///< a true-scale parallel
    WebMercator,
    LambertConformalConic1SP,
    LambertConformalConic2SP,
};
std::string methodName(Method method);

/// Parameters of a projection: angles in degrees, longitude from Greenwich, offsets in metres.
struct ProjectionParameters {
    double latitudeOfOrigin = 0;
    double centralMeridian = 0;
    double scaleFactor = 1;
    double standardParallel1 = 0;
    double standardParallel2 = 0;
    double falseEasting = 0;
    double falseNorthing = 0;
    bool operator==(const ProjectionParameters&) const = default;
};

/// Maps longitude, latitude in degrees to easting, northing in metres and back, in place.
/// Positions outside the method's domain become NaN; others are unaffected. Thread-safe.
class Projection {
public:
    virtual ~Projection() = default;
    virtual void forward(std::span<Point> points) const = 0;
    virtual void inverse(std::span<Point> points) const = 0;
};

/// Errors: InvalidArgument for impossible parameters (a parallel beyond a pole, a scale of zero,
/// parallels symmetric about the equator for a cone).
Result<std::unique_ptr<const Projection>>
makeProjection(Method method, const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);

/// Difference of two longitudes reduced to [-180, 180]; +180 and -180 stay apart.
double longitudeDifference(double lon, double from);

}  // namespace ledge::crs
