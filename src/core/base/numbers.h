#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace ledge {

/// How a number is written for people.
struct NumberFormat {
    int decimals = -1;            ///< -1: as many as needed, up to 6
    bool groupsThousands = true;  ///< with a thin space, from 10 000 on
    bool operator==(const NumberFormat&) const = default;
};

/// A number for people: true minus sign, thin space between thousands, "–" for none (NaN).
std::string formatNumber(double value, NumberFormat format = {});

/// The shortest text that reads back to the same double; for files and scripts.
std::string exactNumber(double value);

/// With a fixed number of significant digits; for `--digits`.
std::string roundedNumber(double value, int digits);

/// The whole text as a number (blanks around it allowed), or nothing. Never depends on the locale.
std::optional<double> parseNumber(std::string_view text);

/// The largest of 1, 2 or 5 x 10^n that does not pass `value` (positive, finite).
double roundDownTo125(double value);

/// The smallest of 1, 2, 2.5 or 5 x 10^n that reaches `value` (positive, finite).
double roundUpToInterval(double value);

/// 61° 35′ 14″ N and its like. `isLatitude` chooses the letter.
std::string formatDegrees(double degrees, bool isLatitude);

/// A scale denominator as people read it: of three digits where that changes it by less than 0.1 %,
/// else of four.
double shownScale(double denominator);
/// Scale as 1 : 60 000.
std::string formatScale(double denominator);

std::string trimmed(std::string_view text);
std::string lowered(std::string_view text);

}  // namespace ledge
