#include <algorithm>

#include "core/crs/catalogue.h"
#include "core/crs/method_table.h"

namespace ledge::crs {

Result<void>
setProjection(Crs& crs, const std::string& name, std::span<const std::string> given,
              std::span<const std::pair<double ProjectionParameters::*, double>> values) {
    using P = ProjectionParameters;
    Method method = methodFromName(name, given);
    const MethodInfo* info = methodInfo(method);
    if (!info)
        return Error{ErrorCode::Unsupported, "CRS definition",
                     "the projection method \"" + name + "\" is not supported",
                     "reproject the data to a CRS with a supported method"};
    P p;
    const double degrees = crs.angularUnit.size / kRadiansPerDegree;
    const auto isAngle = [](double P::*field) {
        for (const auto angle :
             {&P::latitudeOfOrigin, &P::centralMeridian, &P::standardParallel1,
              &P::standardParallel2, &P::azimuth, &P::rectifiedGridAngle, &P::pseudoParallel,
              &P::latitude1, &P::longitude1, &P::latitude2, &P::longitude2})
            if (field == angle) return true;
        return false;
    };
    bool hasSkew = false, hasFirst = false, hasSecond = false;
    for (const auto& [field, value] : values) {
        if (!field) continue;
        double v = value;
        if (isAngle(field) && degrees != 1) v *= degrees;
        if (field == &P::falseEasting || field == &P::falseNorthing) v *= crs.unit.size;
        if (field == &P::centralMeridian || field == &P::longitude1 || field == &P::longitude2)
            v += crs.primeMeridian;
        p.*field = v;
        hasSkew |= field == &P::rectifiedGridAngle;
        hasFirst |= field == &P::standardParallel1;
        hasSecond |= field == &P::standardParallel2;
    }
    if (values.empty() || std::none_of(values.begin(), values.end(), [](const auto& v) {
            return v.first == &P::centralMeridian;
        }))
        p.centralMeridian = crs.primeMeridian;
    if (!hasSkew) p.rectifiedGridAngle = p.azimuth;
    // One WKT1 name serves the variants of the polar stereographic: at a pole the latitude is the
    // origin's, elsewhere that of the true-scale parallel.
    if (method == Method::PolarStereographicA && std::abs(p.latitudeOfOrigin) < 90) {
        method = Method::PolarStereographicB;
        p.standardParallel1 = p.latitudeOfOrigin;
        p.latitudeOfOrigin = 0;
    }
    if (method == Method::PolarStereographicB && !hasFirst && p.standardParallel1 == 0) {
        p.standardParallel1 = p.latitudeOfOrigin;
        p.latitudeOfOrigin = 0;
    }
    // In one .prj dialect a tangent cone is given by its parallel alone, or by two equal ones.
    if (method == Method::LambertConformalConic1SP && hasFirst) {
        method = Method::LambertConformalConic2SP;
        if (!hasSecond) p.standardParallel2 = p.standardParallel1;
    }
    if (method == Method::MercatorB && !hasFirst) p.standardParallel1 = p.latitudeOfOrigin;
    if (method == Method::Bonne || method == Method::BonneSouth)
        if (!hasFirst) p.standardParallel1 = p.latitudeOfOrigin;
    if (method == Method::WinkelTripel && !hasFirst)
        p.standardParallel1 = std::acos(2 / kPi) / kRadiansPerDegree;
    if (method == Method::MercatorB || method == Method::Bonne || method == Method::BonneSouth ||
        method == Method::CylindricalEqualArea)
        p.latitudeOfOrigin = 0;
    crs.method = method;
    crs.parameters = p;
    if (methodInfo(method)->isWestward) crs.isWestward = true;
    if (methodInfo(method)->isSouthward) crs.isSouthward = true;
    return {};
}

}  // namespace ledge::crs
