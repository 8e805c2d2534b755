#pragma once
#include <cstdint>
#include <span>

namespace ledge {

/// Which values of a picture's band become black and white: all, all but the tails, or a number of
/// standard deviations around the mean.
enum class Stretch : std::uint8_t {
    Full,
    Trimmed,
    Spread,
    Stored,  ///< as the file has it: 0 to 255 of bytes
};

struct StretchLimits {
    double low = 0, high = 255;
    bool operator==(const StretchLimits&) const = default;
};

/// Limits for some values of a band (NaN left out). `amount`: per cent left out at either end for
/// Trimmed, standard deviations for Spread. Never empty: `high` is above `low`.
StretchLimits stretchLimits(std::span<const float> values, Stretch kind, double amount);

/// 0 to 255 for a value between the limits, raised to 1 / gamma in between.
std::uint8_t stretched(float value, const StretchLimits& limits, double gamma);

}  // namespace ledge
