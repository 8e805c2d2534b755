#pragma once
#include <numbers>

/// Numbers that more than one place needs.
namespace ledge {

inline constexpr double kPi = std::numbers::pi;
inline constexpr double kRadiansPerDegree = kPi / 180;
inline constexpr double kDegreesPerRadian = 180 / kPi;
/// The international foot, exact (1959), and the US survey foot, exact (1893).
inline constexpr double kMetresPerFoot = 0.3048;
inline constexpr double kMetresPerSurveyFoot = 1200.0 / 3937.0;

}  // namespace ledge
