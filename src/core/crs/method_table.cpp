#include "core/crs/method_table.h"

#include <algorithm>
#include <array>
#include <map>

namespace ledge::crs {
namespace {
using P = ProjectionParameters;
using enum ParameterKind;

// By the standard's groups: natural origin, false origin, projection centre.
constexpr ParameterInfo kLat0{&P::latitudeOfOrigin, Angle, "Latitude of natural origin", 8801,
                              "latitude_of_origin"};
constexpr ParameterInfo kLon0{&P::centralMeridian, Longitude, "Longitude of natural origin", 8802,
                              "central_meridian"};
constexpr ParameterInfo kScale{&P::scaleFactor, Ratio, "Scale factor at natural origin", 8805,
                               "scale_factor"};
constexpr ParameterInfo kEast{&P::falseEasting, Length, "False easting", 8806, "false_easting"};
constexpr ParameterInfo kNorth{&P::falseNorthing, Length, "False northing", 8807, "false_northing"};
constexpr ParameterInfo kFalseLat{&P::latitudeOfOrigin, Angle, "Latitude of false origin", 8821,
                                  "latitude_of_origin"};
constexpr ParameterInfo kFalseLon{&P::centralMeridian, Longitude, "Longitude of false origin", 8822,
                                  "central_meridian"};
constexpr ParameterInfo kFirst{&P::standardParallel1, Angle, "Latitude of 1st standard parallel",
                               8823, "standard_parallel_1"};
constexpr ParameterInfo kSecond{&P::standardParallel2, Angle, "Latitude of 2nd standard parallel",
                                8824, "standard_parallel_2"};
constexpr ParameterInfo kFalseEast{&P::falseEasting, Length, "Easting at false origin", 8826,
                                   "false_easting"};
constexpr ParameterInfo kFalseNorth{&P::falseNorthing, Length, "Northing at false origin", 8827,
                                    "false_northing"};
constexpr ParameterInfo kCentreLat{&P::latitudeOfOrigin, Angle, "Latitude of projection centre",
                                   8811, "latitude_of_center"};
constexpr ParameterInfo kCentreLon{&P::centralMeridian, Longitude, "Longitude of projection centre",
                                   8812, "longitude_of_center"};
constexpr ParameterInfo kAzimuth{&P::azimuth, Angle, "Azimuth at projection centre", 8813,
                                 "azimuth"};
constexpr ParameterInfo kSkew{&P::rectifiedGridAngle, Angle, "Angle from Rectified to Skew Grid",
                              8814, "rectified_grid_angle"};
constexpr ParameterInfo kCentreScale{&P::scaleFactor, Ratio, "Scale factor at projection centre",
                                     8815, "scale_factor"};
constexpr ParameterInfo kCentreEast{&P::falseEasting, Length, "Easting at projection centre", 8816,
                                    "false_easting"};
constexpr ParameterInfo kCentreNorth{&P::falseNorthing, Length, "Northing at projection centre",
                                     8817, "false_northing"};
constexpr ParameterInfo kParallel{&P::standardParallel1, Angle, "Latitude of 1st standard parallel",
                                  8823, "standard_parallel_1"};
constexpr ParameterInfo kPolarParallel{&P::standardParallel1, Angle,
                                       "Latitude of standard parallel", 8832, "latitude_of_origin"};
constexpr ParameterInfo kPolarLon{&P::centralMeridian, Longitude, "Longitude of origin", 8833,
                                  "central_meridian"};
constexpr ParameterInfo kPolarParallelC{&P::standardParallel1, Angle,
                                        "Latitude of standard parallel", 8832,
                                        "Latitude of standard parallel"};
constexpr ParameterInfo kPolarLonC{&P::centralMeridian, Longitude, "Longitude of origin", 8833,
                                   "Longitude of origin"};
constexpr ParameterInfo kConeAxis{&P::azimuth, Angle, "Co-latitude of cone axis", 1036, "azimuth"};
constexpr ParameterInfo kPseudo{&P::pseudoParallel, Angle, "Latitude of pseudo standard parallel",
                                8818, "pseudo_standard_parallel_1"};
constexpr ParameterInfo kPseudoScale{
    &P::scaleFactor, Ratio, "Scale factor on pseudo standard parallel", 8819, "scale_factor"};
constexpr ParameterInfo kEllipsoidScale{&P::scaleFactor, Ratio, "Ellipsoid scaling factor", 1038,
                                        "ellipsoid_scaling_factor"};
constexpr ParameterInfo kLat1{&P::latitude1, Angle, "Latitude of 1st point", 0,
                              "latitude_of_point_1"};
constexpr ParameterInfo kLong1{&P::longitude1, Longitude, "Longitude of 1st point", 0,
                               "longitude_of_point_1"};
constexpr ParameterInfo kLat2{&P::latitude2, Angle, "Latitude of 2nd point", 0,
                              "latitude_of_point_2"};
constexpr ParameterInfo kLong2{&P::longitude2, Longitude, "Longitude of 2nd point", 0,
                               "longitude_of_point_2"};
constexpr ParameterInfo kMidLon{&P::centralMeridian, Longitude, "Longitude of natural origin", 8802,
                                "longitude_of_center"};

constexpr std::array kTransverse{kLat0, kLon0, kScale, kEast, kNorth};
constexpr std::array kTwoParallels{kFalseLat, kFalseLon, kFirst, kSecond, kFalseEast, kFalseNorth};
constexpr std::array kMichigan{kFalseLat,  kFalseLon,   kFirst,         kSecond,
                               kFalseEast, kFalseNorth, kEllipsoidScale};
constexpr std::array kMercatorB{kParallel, kLon0, kEast, kNorth};
constexpr std::array kAlbers{ParameterInfo{&P::latitudeOfOrigin, Angle, "Latitude of false origin",
                                           8821, "latitude_of_center"},
                             ParameterInfo{&P::centralMeridian, Longitude,
                                           "Longitude of false origin", 8822,
                                           "longitude_of_center"},
                             kFirst,
                             kSecond,
                             kFalseEast,
                             kFalseNorth};
constexpr std::array kPolarB{kPolarParallel, kPolarLon, kEast, kNorth};
constexpr std::array kPolarC{kPolarParallelC, kPolarLonC,
                             ParameterInfo{&P::falseEasting, Length, "Easting at false origin",
                                           8826, "Easting at false origin"},
                             ParameterInfo{&P::falseNorthing, Length, "Northing at false origin",
                                           8827, "Northing at false origin"}};
constexpr std::array kCentred{
    ParameterInfo{&P::latitudeOfOrigin, Angle, "Latitude of natural origin", 8801,
                  "latitude_of_center"},
    ParameterInfo{&P::centralMeridian, Longitude, "Longitude of natural origin", 8802,
                  "longitude_of_center"},
    kEast, kNorth};
constexpr std::array kHotineA{kCentreLat, kCentreLon, kAzimuth, kSkew, kCentreScale, kEast, kNorth};
constexpr std::array kHotineB{kCentreLat,   kCentreLon,  kAzimuth,    kSkew,
                              kCentreScale, kCentreEast, kCentreNorth};
constexpr std::array kHotineTwo{kCentreLat, kLat1,        kLong1, kLat2,
                                kLong2,     kCentreScale, kEast,  kNorth};
constexpr std::array kSwiss{kCentreLat, kCentreLon, kCentreScale, kCentreEast, kCentreNorth};
constexpr std::array kKrovak{kCentreLat,   kCentreLon, kConeAxis, kPseudo,
                             kPseudoScale, kEast,      kNorth};
constexpr std::array kOrigin{kLat0, kLon0, kEast, kNorth};
constexpr std::array kParallelOnly{kParallel, kLon0, kEast, kNorth};
constexpr std::array kEquidistant{kLat0, kParallel, kLon0, kEast, kNorth};
constexpr std::array kMeridianOnly{kLon0, kEast, kNorth};
constexpr std::array kMidMeridian{kMidLon, kEast, kNorth};
constexpr std::array kBonne{ParameterInfo{&P::standardParallel1, Angle,
                                          "Latitude of natural origin", 8801,
                                          "standard_parallel_1"},
                            kLon0, kEast, kNorth};

constexpr std::array kMethods{
    MethodInfo{Method::TransverseMercator, "Transverse Mercator", 9807, "Transverse_Mercator",
               kTransverse, true},
    MethodInfo{Method::TransverseMercatorSouth, "Transverse Mercator (South Orientated)", 9808,
               "Transverse_Mercator_South_Orientated", kTransverse, true, false, true, true},
    MethodInfo{Method::MercatorA, "Mercator (variant A)", 9804, "Mercator_1SP", kTransverse, true},
    MethodInfo{Method::MercatorB, "Mercator (variant B)", 9805, "Mercator_2SP", kMercatorB, true},
    MethodInfo{Method::WebMercator, "Popular Visualisation Pseudo Mercator", 1024,
               "Popular_Visualisation_Pseudo_Mercator", kOrigin},
    MethodInfo{Method::LambertConformalConic1SP, "Lambert Conic Conformal (1SP)", 9801,
               "Lambert_Conformal_Conic_1SP", kTransverse, true},
    MethodInfo{Method::LambertConformalConic2SP, "Lambert Conic Conformal (2SP)", 9802,
               "Lambert_Conformal_Conic_2SP", kTwoParallels, true},
    MethodInfo{Method::LambertConformalConicBelgium, "Lambert Conic Conformal (2SP Belgium)", 9803,
               "Lambert_Conformal_Conic_2SP_Belgium", kTwoParallels, true},
    MethodInfo{Method::LambertConformalConicMichigan, "Lambert Conic Conformal (2SP Michigan)",
               1051, "Lambert_Conformal_Conic_2SP_Michigan", kMichigan, true},
    MethodInfo{Method::LambertConformalConicWest, "Lambert Conic Conformal (West Orientated)", 9826,
               "Lambert_Conic_Conformal_(West_Orientated)", kTransverse, true, false, true},
    MethodInfo{Method::AlbersEqualArea, "Albers Equal Area", 9822, "Albers_Conic_Equal_Area",
               kAlbers, false, true},
    MethodInfo{Method::PolarStereographicA, "Polar Stereographic (variant A)", 9810,
               "Polar_Stereographic", kTransverse, true},
    MethodInfo{Method::PolarStereographicB, "Polar Stereographic (variant B)", 9829,
               "Polar_Stereographic", kPolarB, true},
    MethodInfo{Method::PolarStereographicC, "Polar Stereographic (variant C)", 9830,
               "Polar_Stereographic_(variant_C)", kPolarC, true},
    MethodInfo{Method::ObliqueStereographic, "Oblique Stereographic", 9809, "Oblique_Stereographic",
               kTransverse, true},
    MethodInfo{Method::LambertAzimuthalEqualArea, "Lambert Azimuthal Equal Area", 9820,
               "Lambert_Azimuthal_Equal_Area", kCentred, false, true},
    MethodInfo{Method::HotineObliqueMercatorA, "Hotine Oblique Mercator (variant A)", 9812,
               "Hotine_Oblique_Mercator", kHotineA, true},
    MethodInfo{Method::HotineObliqueMercatorB, "Hotine Oblique Mercator (variant B)", 9815,
               "Hotine_Oblique_Mercator_Azimuth_Center", kHotineB, true},
    MethodInfo{Method::HotineObliqueMercatorTwoPoint, "Hotine Oblique Mercator (two points)", 0,
               "Hotine_Oblique_Mercator_Two_Point_Natural_Origin", kHotineTwo, true},
    MethodInfo{Method::SwissObliqueMercator, "Swiss Oblique Mercator", 9814,
               "Swiss_Oblique_Mercator", kSwiss, true},
    MethodInfo{Method::Krovak, "Krovak", 9819, "Krovak", kKrovak, true},
    MethodInfo{Method::CassiniSoldner, "Cassini-Soldner", 9806, "Cassini_Soldner", kOrigin},
    MethodInfo{Method::AmericanPolyconic, "American Polyconic", 9818, "Polyconic", kOrigin},
    MethodInfo{Method::AzimuthalEquidistant, "Azimuthal Equidistant", 1125, "Azimuthal_Equidistant",
               kCentred},
    MethodInfo{Method::EquidistantConic, "Equidistant Conic", 1119, "Equidistant_Conic", kAlbers},
    MethodInfo{Method::CylindricalEqualArea, "Lambert Cylindrical Equal Area", 9835,
               "Cylindrical_Equal_Area", kParallelOnly, false, true},
    MethodInfo{Method::EquidistantCylindrical, "Equidistant Cylindrical", 1028, "Equirectangular",
               kEquidistant},
    MethodInfo{Method::EquidistantCylindricalSpherical, "Equidistant Cylindrical (Spherical)", 1029,
               "Equidistant_Cylindrical_Spherical", kEquidistant},
    MethodInfo{Method::Sinusoidal, "Sinusoidal", 0, "Sinusoidal", kMidMeridian, false, true},
    MethodInfo{Method::Bonne, "Bonne", 9827, "Bonne", kBonne, false, true},
    MethodInfo{Method::BonneSouth, "Bonne (South Orientated)", 9828, "Bonne_(South_Orientated)",
               kBonne, false, true, true, true},
    MethodInfo{Method::NewZealandMapGrid, "New Zealand Map Grid", 9811, "New_Zealand_Map_Grid",
               kOrigin, true},
    MethodInfo{Method::Orthographic, "Orthographic", 9840, "Orthographic", kOrigin},
    MethodInfo{Method::Gnomonic, "Gnomonic", 0, "Gnomonic", kOrigin},
    MethodInfo{Method::Mollweide, "Mollweide", 0, "Mollweide", kMeridianOnly, false, true},
    MethodInfo{Method::Eckert1, "Eckert I", 0, "Eckert_I", kMeridianOnly},
    MethodInfo{Method::Eckert2, "Eckert II", 0, "Eckert_II", kMeridianOnly, false, true},
    MethodInfo{Method::Eckert3, "Eckert III", 0, "Eckert_III", kMeridianOnly},
    MethodInfo{Method::Eckert4, "Eckert IV", 0, "Eckert_IV", kMeridianOnly, false, true},
    MethodInfo{Method::Eckert5, "Eckert V", 0, "Eckert_V", kMeridianOnly},
    MethodInfo{Method::Eckert6, "Eckert VI", 0, "Eckert_VI", kMeridianOnly, false, true},
    MethodInfo{Method::EqualEarth, "Equal Earth", 1078, "Equal_Earth", kMeridianOnly, false, true},
    MethodInfo{Method::Robinson, "Robinson", 0, "Robinson", kMeridianOnly},
    MethodInfo{Method::NaturalEarth, "Natural Earth", 0, "Natural_Earth", kMeridianOnly},
    MethodInfo{Method::WinkelTripel, "Winkel Tripel", 0, "Winkel_Tripel", kParallelOnly},
    MethodInfo{Method::Aitoff, "Aitoff", 0, "Aitoff", kMeridianOnly},
    MethodInfo{Method::Hammer, "Hammer", 0, "Hammer_Aitoff", kMeridianOnly, false, true},
    MethodInfo{Method::Miller, "Miller Cylindrical", 0, "Miller_Cylindrical", kMidMeridian},
    MethodInfo{Method::GallStereographic, "Gall Stereographic", 0, "Gall_Stereographic",
               kMeridianOnly},
    MethodInfo{Method::VanDerGrinten, "Van der Grinten I", 0, "VanDerGrinten", kMeridianOnly},
    MethodInfo{Method::InterruptedHomolosine, "Interrupted Goode Homolosine", 0,
               "Interrupted_Goode_Homolosine", kMeridianOnly, false, true},
};

// Further names, normalised: those of other standards and of .prj files.
const std::map<std::string, Method, std::less<>>& aliases() {
    static const std::map<std::string, Method, std::less<>> names{
        {"gausskruger", Method::TransverseMercator},
        {"gaussboaga", Method::TransverseMercator},
        {"transversemercatorsouthoriented", Method::TransverseMercatorSouth},
        {"transversemercatorsouthorientated", Method::TransverseMercatorSouth},
        {"mercatorvarianta", Method::MercatorA},
        {"mercatorvariantb", Method::MercatorB},
        {"mercatorauxiliarysphere", Method::WebMercator},
        {"popularvisualisationpseudomercator", Method::WebMercator},
        {"lambertconicconformal1sp", Method::LambertConformalConic1SP},
        {"lambertconicconformal2sp", Method::LambertConformalConic2SP},
        {"lambertconicconformal2spbelgium", Method::LambertConformalConicBelgium},
        {"lambertconicconformal2spmichigan", Method::LambertConformalConicMichigan},
        {"lambertconformalconicwestorientated", Method::LambertConformalConicWest},
        {"lambertconicconformalwestorientated", Method::LambertConformalConicWest},
        {"albers", Method::AlbersEqualArea},
        {"albersequalarea", Method::AlbersEqualArea},
        {"doublestereographic", Method::ObliqueStereographic},
        {"lambertazimuthalequalareaspherical", Method::LambertAzimuthalEqualArea},
        {"obliquemercator", Method::HotineObliqueMercatorB},
        {"hotineobliquemercatorvarianta", Method::HotineObliqueMercatorA},
        {"hotineobliquemercatorvariantb", Method::HotineObliqueMercatorB},
        {"hotineobliquemercatorazimuthnaturalorigin", Method::HotineObliqueMercatorA},
        {"hotineobliquemercatorazimuthcenter", Method::HotineObliqueMercatorB},
        {"rectifiedskeworthomorphicnaturalorigin", Method::HotineObliqueMercatorA},
        {"rectifiedskeworthomorphiccenter", Method::HotineObliqueMercatorB},
        {"hotineobliquemercatortwopointnaturalorigin", Method::HotineObliqueMercatorTwoPoint},
        {"swissobliquecylindrical", Method::SwissObliqueMercator},
        {"krovaknorthorientated", Method::Krovak},
        {"cassini", Method::CassiniSoldner},
        {"polyconic", Method::AmericanPolyconic},
        {"modifiedazimuthalequidistant", Method::AzimuthalEquidistant},
        {"cylindricalequalarea", Method::CylindricalEqualArea},
        {"lambertcylindricalequalarea", Method::CylindricalEqualArea},
        {"lambertcylindricalequalareaellipsoidal", Method::CylindricalEqualArea},
        {"behrmann", Method::CylindricalEqualArea},
        {"equidistantcylindrical", Method::EquidistantCylindrical},
        {"equidistantcylindricalellipsoidal", Method::EquidistantCylindrical},
        {"platecarree", Method::EquidistantCylindricalSpherical},
        {"gnomonicspherical", Method::Gnomonic},
        {"winkeltripelngs", Method::WinkelTripel},
        {"hammer", Method::Hammer},
        {"vandergrinteni", Method::VanDerGrinten},
        {"goodehomolosine", Method::InterruptedHomolosine},
        {"interruptedhomolosine", Method::InterruptedHomolosine},
        {"homolosine", Method::InterruptedHomolosine},
    };
    return names;
}
}  // namespace

std::string normalisedName(std::string_view name) {
    std::string out;
    for (const char c : name) {
        const auto u = static_cast<unsigned char>(c);
        if (u < 128 && std::isalnum(u)) out += static_cast<char>(std::tolower(u));
    }
    return out;
}

std::span<const MethodInfo> methods() { return kMethods; }

const MethodInfo* methodInfo(Method method) {
    for (const MethodInfo& info : kMethods)
        if (info.method == method) return &info;
    return nullptr;
}

std::string methodName(Method method) {
    const MethodInfo* info = methodInfo(method);
    return info ? info->name : "none";
}

Method methodFromName(std::string_view name, std::span<const std::string> given) {
    const std::string n = normalisedName(name);
    const auto has = [&](std::string_view parameter) {
        return std::find(given.begin(), given.end(), parameter) != given.end();
    };
    if (n == "mercator") return has("standardparallel1") ? Method::MercatorB : Method::MercatorA;
    if (n == "lambertconformalconic")
        return has("standardparallel2") ? Method::LambertConformalConic2SP
                                        : Method::LambertConformalConic1SP;
    if (n == "polarstereographic" || n == "stereographicnorthpole" || n == "stereographicsouthpole")
        return has("standardparallel1") ? Method::PolarStereographicB : Method::PolarStereographicA;
    if (const auto it = aliases().find(n); it != aliases().end()) return it->second;
    for (const MethodInfo& info : kMethods)
        if (n == normalisedName(info.name) || n == normalisedName(info.wkt1)) return info.method;
    return Method::None;
}

double ProjectionParameters::*fieldFromName(std::string_view n) {
    static const auto names = [] {
        std::map<std::string, double P::*, std::less<>> out;
        for (const MethodInfo& info : kMethods)
            for (const ParameterInfo& parameter : info.parameters) {
                out.emplace(normalisedName(parameter.name), parameter.field);
                out.emplace(normalisedName(parameter.wkt1), parameter.field);
            }
        // Further names of dialects.
        out.emplace("latitudeofnaturalorigin", &P::latitudeOfOrigin);
        out.emplace("longitudeoforigin", &P::centralMeridian);
        out.emplace("azimuthofinitialline", &P::azimuth);
        out.emplace("scalefactoroninitialline", &P::scaleFactor);
        out.emplace("colatitudeoftheconeaxis", &P::azimuth);
        out.emplace("latitudeof1stpoint", &P::latitude1);
        out.emplace("longitudeof1stpoint", &P::longitude1);
        out.emplace("latitudeof2ndpoint", &P::latitude2);
        out.emplace("longitudeof2ndpoint", &P::longitude2);
        out.insert_or_assign("latitudeoforigin", &P::latitudeOfOrigin);
        out.insert_or_assign("latitudeofstandardparallel", &P::standardParallel1);
        return out;
    }();
    const auto it = names.find(n);
    return it == names.end() ? nullptr : it->second;
}

double ProjectionParameters::*fieldFromEpsg(int code) {
    for (const MethodInfo& info : kMethods)
        for (const ParameterInfo& parameter : info.parameters)
            if (code != 0 && parameter.epsg == code) return parameter.field;
    return nullptr;
}

}  // namespace ledge::crs
