#include "core/base/units.h"

#include <cmath>

#include "core/base/constants.h"
#include "core/base/numbers.h"

namespace ledge {
namespace {
constexpr double kFoot = kMetresPerFoot, kSurveyFoot = kMetresPerSurveyFoot;
constexpr double kMile = 5280 * kFoot, kSurveyMile = 5280 * kSurveyFoot;
constexpr double kNauticalMile = 1852;
constexpr double kAcre = 43560 * kFoot * kFoot;

// Four or five significant digits, so that two measures of one thing can be told apart.
std::string rounded(double value) {
    const double size = std::abs(value);
    const int decimals = size >= 1000 ? 0 : size >= 100 ? 1 : size >= 10 ? 2 : 3;
    return formatNumber(value, {decimals, true});
}
}  // namespace

std::string lengthUnitName(LengthUnit unit) {
    switch (unit) {
    case LengthUnit::Metric: return "metres and kilometres";
    case LengthUnit::Feet: return "feet and miles";
    case LengthUnit::UsSurveyFeet: return "US survey feet and miles";
    case LengthUnit::NauticalMiles: return "nautical miles";
    }
    return "";
}

const std::vector<NamedLength>& scaleBarUnits() {
    static const std::vector<NamedLength> units{{"m", 1},
                                                {"km", 1000},
                                                {"ft", kFoot},
                                                {"yd", 3 * kFoot},
                                                {"mi", kMile},
                                                {"ft (US)", kSurveyFoot},
                                                {"mi (US)", kSurveyMile},
                                                {"nmi", kNauticalMile}};
    return units;
}

NamedLength scaleBarUnit(double metres, LengthUnit unit) {
    switch (unit) {
    case LengthUnit::Metric: return metres >= 1000 ? NamedLength{"km", 1000} : NamedLength{"m", 1};
    case LengthUnit::Feet:
        return metres >= kMile ? NamedLength{"mi", kMile} : NamedLength{"ft", kFoot};
    case LengthUnit::UsSurveyFeet:
        return metres >= kSurveyMile ? NamedLength{"mi (US)", kSurveyMile}
                                     : NamedLength{"ft (US)", kSurveyFoot};
    case LengthUnit::NauticalMiles:
        return metres >= 0.2 * kNauticalMile ? NamedLength{"nmi", kNauticalMile}
                                             : NamedLength{"m", 1};
    }
    return {};
}

std::string formatLength(double metres, LengthUnit unit) {
    if (!std::isfinite(metres)) return "–";
    const NamedLength named = scaleBarUnit(std::abs(metres), unit);
    return rounded(metres / named.metres) + " " + named.name;
}

std::string formatArea(double squareMetres, LengthUnit unit) {
    if (!std::isfinite(squareMetres)) return "–";
    const double size = std::abs(squareMetres);
    const auto in = [&](double one, const char* name) {
        return rounded(squareMetres / one) + " " + name;
    };
    switch (unit) {
    case LengthUnit::Metric:
        if (size >= 1e6) return in(1e6, "km²");
        return size >= 1e4 ? in(1e4, "ha") : in(1, "m²");
    case LengthUnit::Feet:
    case LengthUnit::UsSurveyFeet: {
        const double foot = unit == LengthUnit::Feet ? kFoot : kSurveyFoot;
        const double ratio = foot * foot / (kFoot * kFoot);
        if (size >= 640 * kAcre * ratio) return in(640 * kAcre * ratio, "sq mi");
        return size >= kAcre * ratio ? in(kAcre * ratio, "acres") : in(foot * foot, "sq ft");
    }
    case LengthUnit::NauticalMiles:
        if (size >= 0.1 * kNauticalMile * kNauticalMile)
            return in(kNauticalMile * kNauticalMile, "sq nmi");
        return in(1, "m²");
    }
    return "";
}

std::string formatBearing(double degrees) {
    if (!std::isfinite(degrees)) return "–";
    double turned = std::fmod(degrees, 360);
    if (turned < 0) turned += 360;
    std::string text = formatNumber(turned, {1, false});
    while (text.size() < 5) text.insert(0, "0");
    return text == "360.0" ? "000.0°" : text + "°";
}

}  // namespace ledge
