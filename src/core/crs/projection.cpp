#include "core/crs/projection.h"

#include "core/base/numbers.h"
#include "core/crs/conic.h"
#include "core/crs/mercator.h"
#include "core/crs/transverse_mercator.h"

namespace ledge::crs {
namespace {
Error impossible(const std::string& field, double value, const std::string& mend) {
    return {ErrorCode::InvalidArgument, "projection parameter " + field,
            exactNumber(value) + " is impossible", mend};
}

Result<void> checked(Method method, const ProjectionParameters& p, const Ellipsoid& e) {
    if (!(e.semiMajor > 1) || !std::isfinite(e.semiMajor))
        return impossible("semi-major axis", e.semiMajor, "give the ellipsoid's axis in metres");
    if (e.inverseFlattening != 0 && !(e.inverseFlattening > 2))
        return impossible("inverse flattening", e.inverseFlattening, "give 1/f, or 0 for a sphere");
    if (!(std::abs(p.latitudeOfOrigin) <= 90))
        return impossible("latitude of origin", p.latitudeOfOrigin, "use -90 to 90 degrees");
    if (!(std::abs(p.centralMeridian) <= 360))
        return impossible("central meridian", p.centralMeridian, "use -180 to 180 degrees");
    if (!(p.scaleFactor > 0) || !std::isfinite(p.scaleFactor))
        return impossible("scale factor", p.scaleFactor, "use a positive number near 1");
    if (!std::isfinite(p.falseEasting) || !std::isfinite(p.falseNorthing))
        return impossible("false origin", p.falseEasting, "use finite metres");
    if (method == Method::LambertConformalConic1SP && std::abs(p.latitudeOfOrigin) < 1e-9)
        return impossible("latitude of origin", p.latitudeOfOrigin,
                          "a cone cannot touch the equator");
    if (method == Method::LambertConformalConic2SP || method == Method::MercatorB) {
        if (!(std::abs(p.standardParallel1) < 90))
            return impossible("standard parallel 1", p.standardParallel1,
                              "use less than 90 degrees");
    }
    if (method == Method::LambertConformalConic2SP) {
        if (!(std::abs(p.standardParallel2) < 90))
            return impossible("standard parallel 2", p.standardParallel2,
                              "use less than 90 degrees");
        if (std::abs(p.standardParallel1 + p.standardParallel2) < 1e-9)
            return impossible("standard parallel 2", p.standardParallel2,
                              "parallels opposite in sign make no cone");
    }
    return {};
}

struct Unprojected final : Projection {
    void forward(std::span<Point>) const override {}
    void inverse(std::span<Point>) const override {}
};
}  // namespace

std::string methodName(Method method) {
    switch (method) {
    case Method::None: return "none";
    case Method::TransverseMercator: return "Transverse Mercator";
    case Method::MercatorA: return "Mercator (variant A)";
    case Method::MercatorB: return "Mercator (variant B)";
    case Method::WebMercator: return "Popular Visualisation Pseudo Mercator";
    case Method::LambertConformalConic1SP: return "Lambert Conic Conformal (1SP)";
    case Method::LambertConformalConic2SP: return "Lambert Conic Conformal (2SP)";
    }
    return "";
}

double longitudeDifference(double lon, double from) {
    const double d = lon - from;
    if (d >= -180 && d <= 180) return d;
    return std::remainder(d, 360.0);
}

Result<std::unique_ptr<const Projection>>
makeProjection(Method method, const ProjectionParameters& p, const Ellipsoid& e) {
    using Made = std::unique_ptr<const Projection>;
    if (const auto fine = checked(method, p, e); !fine) return fine.error();
    switch (method) {
    case Method::None: return Made(std::make_unique<Unprojected>());
    case Method::TransverseMercator: return Made(std::make_unique<TransverseMercator>(p, e));
    case Method::MercatorA:
    case Method::MercatorB: return Made(std::make_unique<Mercator>(method, p, e));
    case Method::WebMercator: return Made(std::make_unique<WebMercator>(p, e));
    case Method::LambertConformalConic1SP:
    case Method::LambertConformalConic2SP:
        return Made(std::make_unique<LambertConformalConic>(method, p, e));
    }
    return Error{ErrorCode::Unsupported, "projection", "unknown method", ""};
}

}  // namespace ledge::crs
