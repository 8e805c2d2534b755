#pragma once
#include <cstdint>
#include <string>
#include <vector>

namespace ledge {

/// Units that lengths and areas are shown in, whatever the CRS's unit is.
enum class LengthUnit : std::uint8_t { Metric, Feet, UsSurveyFeet, NauticalMiles };
/// Forms that positions are shown in.
enum class CoordinateForm : std::uint8_t { MapUnits, DegreesMinutesSeconds, DecimalDegrees };

/// "metres and kilometres", "feet and miles", …
std::string lengthUnitName(LengthUnit unit);
/// A length for people, the larger unit from a kilometre or a mile on: "5.12 km", "830 m".
std::string formatLength(double metres, LengthUnit unit);
/// An area for people: m², ha, km²; square feet, acres, square miles; square nautical miles.
std::string formatArea(double squareMetres, LengthUnit unit);
/// A bearing clockwise from north: "047.3°".
std::string formatBearing(double degrees);

/// The unit that a scale bar of a length is numbered in, and its metres.
struct NamedLength {
    std::string name;
    double metres = 1;
};
NamedLength scaleBarUnit(double metres, LengthUnit unit);
/// Units that a scale bar may be numbered in whatever its length.
const std::vector<NamedLength>& scaleBarUnits();

}  // namespace ledge
