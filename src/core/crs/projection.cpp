#include "core/crs/projection.h"

#include <list>
#include <mutex>

#include "core/base/numbers.h"
#include "core/crs/method_table.h"
#include "core/crs/methods/azimuthal.h"
#include "core/crs/methods/conic.h"
#include "core/crs/methods/cylindrical.h"
#include "core/crs/methods/equidistant.h"
#include "core/crs/methods/mercator.h"
#include "core/crs/methods/new_zealand.h"
#include "core/crs/methods/oblique_mercator.h"
#include "core/crs/methods/stereographic.h"
#include "core/crs/methods/transverse_mercator.h"
#include "core/crs/methods/world.h"

namespace ledge::crs {
namespace {
Error impossible(const std::string& field, double value, const std::string& mend) {
    return {ErrorCode::InvalidArgument, "projection parameter " + field,
            exactNumber(value) + " is impossible", mend};
}

Result<void> checkedNumbers(const MethodInfo& info, const ProjectionParameters& p) {
    for (const ParameterInfo& parameter : info.parameters) {
        const double value = p.*parameter.field;
        switch (parameter.kind) {
        case ParameterKind::Angle:
            if (parameter.field == &ProjectionParameters::azimuth ||
                parameter.field == &ProjectionParameters::rectifiedGridAngle) {
                if (!(std::abs(value) <= 360))
                    return impossible(parameter.name, value, "use -360 to 360 degrees");
            } else if (!(std::abs(value) <= 90)) {
                return impossible(parameter.name, value, "use -90 to 90 degrees");
            }
            break;
        case ParameterKind::Longitude:
            if (!(std::abs(value) <= 360))
                return impossible(parameter.name, value, "use -180 to 180 degrees");
            break;
        case ParameterKind::Length:
            if (!std::isfinite(value))
                return impossible(parameter.name, value, "use finite metres");
            break;
        case ParameterKind::Ratio:
            if (!(value > 0) || !std::isfinite(value))
                return impossible(parameter.name, value, "use a positive number near 1");
            break;
        }
    }
    return {};
}

bool isNearZero(double degrees) { return std::abs(degrees) < 1e-9; }

// What the geometry of a method asks of its angles beyond their range.
Result<void> checkedAngles(Method method, const ProjectionParameters& p) {
    const double first = p.standardParallel1, second = p.standardParallel2;
    switch (method) {
    case Method::LambertConformalConic1SP:
    case Method::LambertConformalConicWest:
        if (isNearZero(p.latitudeOfOrigin) || std::abs(p.latitudeOfOrigin) >= 90)
            return impossible("latitude of origin", p.latitudeOfOrigin,
                              "a cone touches neither the equator nor a pole");
        break;
    case Method::LambertConformalConic2SP:
    case Method::LambertConformalConicBelgium:
    case Method::LambertConformalConicMichigan:
    case Method::AlbersEqualArea:
    case Method::EquidistantConic:
        if (std::abs(first) >= 90 && method != Method::AlbersEqualArea)
            return impossible("standard parallel 1", first, "use less than 90 degrees");
        if (std::abs(second) >= 90 && method != Method::AlbersEqualArea)
            return impossible("standard parallel 2", second, "use less than 90 degrees");
        if (isNearZero(first + second))
            return impossible("standard parallel 2", second,
                              "parallels opposite in sign make no cone");
        break;
    case Method::MercatorB:
    case Method::CylindricalEqualArea:
    case Method::EquidistantCylindrical:
    case Method::EquidistantCylindricalSpherical:
        if (std::abs(first) >= 90)
            return impossible("standard parallel 1", first, "use less than 90 degrees");
        break;
    case Method::Bonne:
    case Method::BonneSouth:
        if (isNearZero(first) || std::abs(first) >= 90)
            return impossible("standard parallel 1", first,
                              "use a latitude between the equator and a pole");
        break;
    case Method::PolarStereographicA:
        if (std::abs(p.latitudeOfOrigin) != 90)
            return impossible("latitude of origin", p.latitudeOfOrigin, "use 90 or -90 degrees");
        break;
    case Method::PolarStereographicB:
    case Method::PolarStereographicC:
        if (isNearZero(first))
            return impossible("standard parallel", first, "use a parallel about a pole");
        break;
    case Method::ObliqueStereographic:
        if (std::abs(p.latitudeOfOrigin) >= 90)
            return impossible("latitude of origin", p.latitudeOfOrigin,
                              "use the polar stereographic there");
        break;
    case Method::HotineObliqueMercatorA:
    case Method::HotineObliqueMercatorB:
    case Method::SwissObliqueMercator:
        if (isNearZero(p.latitudeOfOrigin) && method == Method::HotineObliqueMercatorB &&
            isNearZero(p.azimuth))
            return impossible("azimuth", p.azimuth, "use the transverse Mercator there");
        if (std::abs(p.latitudeOfOrigin) >= 90)
            return impossible("latitude of projection centre", p.latitudeOfOrigin,
                              "use less than 90 degrees");
        break;
    case Method::HotineObliqueMercatorTwoPoint:
        if (std::abs(p.latitude1 - p.latitude2) < 1e-9)
            return impossible("latitude of 2nd point", p.latitude2,
                              "the points need different latitudes");
        if (std::abs(p.latitude1) >= 90 || std::abs(p.latitude2) >= 90)
            return impossible("latitude of 1st point", p.latitude1, "use less than 90 degrees");
        break;
    case Method::Krovak:
        if (!(p.pseudoParallel > 0 && p.pseudoParallel < 90))
            return impossible("latitude of pseudo standard parallel", p.pseudoParallel,
                              "use more than 0 and less than 90 degrees");
        break;
    default: break;
    }
    return {};
}

Result<void> checked(Method method, const ProjectionParameters& p, const Ellipsoid& e) {
    if (!(e.semiMajor > 0) || !std::isfinite(e.semiMajor))
        return impossible("semi-major axis", e.semiMajor, "give the ellipsoid's axis in metres");
    if (e.inverseFlattening != 0 && !(e.inverseFlattening > 2))
        return impossible("inverse flattening", e.inverseFlattening, "give 1/f, or 0 for a sphere");
    const MethodInfo* info = methodInfo(method);
    if (!info) return {};
    if (const auto fine = checkedNumbers(*info, p); !fine) return fine;
    return checkedAngles(method, p);
}

struct Unprojected final : Projection {
    void forward(std::span<Point>) const override {}
    void inverse(std::span<Point>) const override {}
};
}  // namespace

double longitudeDifference(double lon, double from) {
    const double d = lon - from;
    if (d >= -180 && d <= 180) return d;
    return std::remainder(d, 360.0);
}

Result<std::unique_ptr<const Projection>>
makeProjection(Method method, const ProjectionParameters& p, const Ellipsoid& e) {
    if (const auto fine = checked(method, p, e); !fine) return fine.error();
    switch (method) {
    case Method::None: return std::unique_ptr<const Projection>(std::make_unique<Unprojected>());
    case Method::TransverseMercator:
    case Method::TransverseMercatorSouth: return projectionWith<TransverseMercatorKernel>(p, e);
    case Method::MercatorA: return projectionWith<MercatorKernel<false>>(p, e);
    case Method::MercatorB: return projectionWith<MercatorKernel<true>>(p, e);
    case Method::WebMercator: return projectionWith<WebMercatorKernel>(p, e);
    case Method::LambertConformalConic1SP:
    case Method::LambertConformalConicWest:
        return projectionWith<LambertConformalKernel<Cone::OneParallel>>(p, e);
    case Method::LambertConformalConic2SP:
        return projectionWith<LambertConformalKernel<Cone::TwoParallels>>(p, e);
    case Method::LambertConformalConicBelgium:
        return projectionWith<LambertConformalKernel<Cone::Belgium>>(p, e);
    case Method::LambertConformalConicMichigan:
        return projectionWith<LambertConformalKernel<Cone::Michigan>>(p, e);
    case Method::AlbersEqualArea: return projectionWith<AlbersKernel>(p, e);
    case Method::PolarStereographicA:
        return projectionWith<PolarStereographicKernel<PolarVariant::A>>(p, e);
    case Method::PolarStereographicB:
        return projectionWith<PolarStereographicKernel<PolarVariant::B>>(p, e);
    case Method::PolarStereographicC:
        return projectionWith<PolarStereographicKernel<PolarVariant::C>>(p, e);
    case Method::ObliqueStereographic: return projectionWith<ObliqueStereographicKernel>(p, e);
    case Method::LambertAzimuthalEqualArea: return projectionWith<LambertAzimuthalKernel>(p, e);
    case Method::HotineObliqueMercatorA:
        return projectionWith<HotineKernel<HotineVariant::A>>(p, e);
    case Method::HotineObliqueMercatorB:
        return projectionWith<HotineKernel<HotineVariant::B>>(p, e);
    case Method::HotineObliqueMercatorTwoPoint:
        return projectionWith<HotineKernel<HotineVariant::TwoPoint>>(p, e);
    case Method::SwissObliqueMercator:
        return projectionWith<HotineKernel<HotineVariant::Swiss>>(p, e);
    case Method::Krovak: return projectionWith<KrovakKernel>(p, e);
    case Method::CassiniSoldner: return projectionWith<CassiniSoldnerKernel>(p, e);
    case Method::AmericanPolyconic: return projectionWith<AmericanPolyconicKernel>(p, e);
    case Method::AzimuthalEquidistant: return projectionWith<AzimuthalEquidistantKernel>(p, e);
    case Method::EquidistantConic: return projectionWith<EquidistantConicKernel>(p, e);
    case Method::CylindricalEqualArea: return projectionWith<CylindricalEqualAreaKernel>(p, e);
    case Method::EquidistantCylindrical:
        return projectionWith<EquidistantCylindricalKernel<false>>(p, e);
    case Method::EquidistantCylindricalSpherical:
        return projectionWith<EquidistantCylindricalKernel<true>>(p, e);
    case Method::Sinusoidal: return projectionWith<SinusoidalKernel>(p, e);
    case Method::Bonne:
    case Method::BonneSouth: return projectionWith<BonneKernel>(p, e);
    case Method::NewZealandMapGrid: return projectionWith<NewZealandKernel>(p, e);
    case Method::Orthographic: return projectionWith<OrthographicKernel>(p, e);
    case Method::Gnomonic: return projectionWith<GnomonicKernel>(p, e);
    case Method::Mollweide: return projectionWith<PseudocylindricalKernel<MollweideShape>>(p, e);
    case Method::Eckert1: return projectionWith<PseudocylindricalKernel<Eckert1Shape>>(p, e);
    case Method::Eckert2: return projectionWith<PseudocylindricalKernel<Eckert2Shape>>(p, e);
    case Method::Eckert3: return projectionWith<PseudocylindricalKernel<Eckert3Shape>>(p, e);
    case Method::Eckert4: return projectionWith<PseudocylindricalKernel<Eckert4Shape>>(p, e);
    case Method::Eckert5: return projectionWith<PseudocylindricalKernel<Eckert5Shape>>(p, e);
    case Method::Eckert6: return projectionWith<PseudocylindricalKernel<Eckert6Shape>>(p, e);
    case Method::EqualEarth: return projectionWith<PseudocylindricalKernel<EqualEarthShape>>(p, e);
    case Method::Robinson: return projectionWith<PseudocylindricalKernel<RobinsonShape>>(p, e);
    case Method::NaturalEarth:
        return projectionWith<PseudocylindricalKernel<NaturalEarthShape>>(p, e);
    case Method::WinkelTripel: return projectionWith<WinkelTripelKernel>(p, e);
    case Method::Aitoff: return projectionWith<AitoffKernel>(p, e);
    case Method::Hammer: return projectionWith<HammerKernel>(p, e);
    case Method::Miller: return projectionWith<MillerKernel>(p, e);
    case Method::GallStereographic: return projectionWith<GallStereographicKernel>(p, e);
    case Method::VanDerGrinten: return projectionWith<VanDerGrintenKernel>(p, e);
    case Method::InterruptedHomolosine: return projectionWith<HomolosineKernel>(p, e);
    }
    return Error{ErrorCode::Unsupported, "projection", "unknown method", ""};
}

Result<std::shared_ptr<const Projection>>
sharedProjection(Method method, const ProjectionParameters& p, const Ellipsoid& e) {
    struct Kept {
        Method method;
        ProjectionParameters parameters;
        Ellipsoid ellipsoid;
        std::shared_ptr<const Projection> projection;
    };
    constexpr std::size_t kMost = 24;
    static std::mutex mutex;  // guards the list below, latest first
    static std::list<Kept> kept;
    {
        const std::lock_guard lock(mutex);
        for (auto it = kept.begin(); it != kept.end(); ++it) {
            if (it->method != method || !(it->parameters == p) || !(it->ellipsoid == e)) continue;
            kept.splice(kept.begin(), kept, it);
            return it->projection;
        }
    }
    auto made = makeProjection(method, p, e);
    if (!made) return made.error();
    const std::shared_ptr<const Projection> projection = *std::move(made);
    const std::lock_guard lock(mutex);
    kept.push_front({method, p, e, projection});
    if (kept.size() > kMost) kept.pop_back();
    return projection;
}

}  // namespace ledge::crs
