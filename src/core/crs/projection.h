#pragma once
#include <memory>
#include <span>
#include <string>

#include "core/base/result.h"
#include "core/crs/ellipsoid.h"

namespace ledge::crs {

/// Operation methods of IOGP Guidance Note 7-2 and, from WorldPlates on, of Snyder's Professional
/// Paper 1395 and the literature named at each. `method_table.h` says their names and parameters.
enum class Method {
    None,  ///< geographic coordinates stay as they are
    TransverseMercator,
    TransverseMercatorSouth,
    MercatorA,  ///< one parallel with a scale factor
    MercatorB,  ///< a true-scale parallel
    WebMercator,
    LambertConformalConic1SP,
    LambertConformalConic2SP,
    LambertConformalConicBelgium,
    LambertConformalConicMichigan,
    LambertConformalConicWest,
    AlbersEqualArea,
    PolarStereographicA,
    PolarStereographicB,
    PolarStereographicC,
    ObliqueStereographic,
    LambertAzimuthalEqualArea,
    HotineObliqueMercatorA,
    HotineObliqueMercatorB,
    HotineObliqueMercatorTwoPoint,
    SwissObliqueMercator,
    Krovak,
    CassiniSoldner,
    AmericanPolyconic,
    AzimuthalEquidistant,
    EquidistantConic,
    CylindricalEqualArea,
    EquidistantCylindrical,
    EquidistantCylindricalSpherical,
    Sinusoidal,
    Bonne,
    BonneSouth,
    NewZealandMapGrid,
    Orthographic,
    Gnomonic,
    Mollweide,
    Eckert1,
    Eckert2,
    Eckert3,
    Eckert4,
    Eckert5,
    Eckert6,
    EqualEarth,
    Robinson,
    NaturalEarth,
    WinkelTripel,
    Aitoff,
    Hammer,
    Miller,
    GallStereographic,
    VanDerGrinten,
    InterruptedHomolosine,
};
std::string methodName(Method method);

/// Parameters of a projection: angles in degrees, longitude from Greenwich, offsets in metres,
/// positive in the direction of the CRS's own axes.
struct ProjectionParameters {
    double latitudeOfOrigin = 0;
    double centralMeridian = 0;
    double scaleFactor = 1;  ///< of the ellipsoid itself in the Michigan variant of the cone
    double standardParallel1 = 0;
    double standardParallel2 = 0;
    double falseEasting = 0;
    double falseNorthing = 0;
    double azimuth = 0;  ///< of the initial line; for Krovak co-latitude of the cone axis
    double rectifiedGridAngle = 0;  ///< from the rectified to the skew grid
    double pseudoParallel = 0;      ///< of the oblique cone
    double latitude1 = 0, longitude1 = 0, latitude2 = 0, longitude2 = 0;  ///< of a line's points
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

/// Positive east and north for every method; `Crs` turns axes of west- and south-orientated ones.
/// Errors: InvalidArgument for impossible parameters (a parallel beyond a pole, a scale of zero,
/// parallels symmetric about the equator for a cone).
Result<std::unique_ptr<const Projection>>
makeProjection(Method method, const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);

/// The same, kept: the series of a projection take long to find, and the same few are asked for
/// again and again. Safe from several threads.
Result<std::shared_ptr<const Projection>>
sharedProjection(Method method, const ProjectionParameters& parameters, const Ellipsoid& ellipsoid);

/// Difference of two longitudes reduced to [-180, 180]; +180 and -180 stay apart.
double longitudeDifference(double lon, double from);

}  // namespace ledge::crs
