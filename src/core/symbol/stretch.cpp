#include "core/symbol/stretch.h"

#include <algorithm>
#include <cmath>
#include <vector>

namespace ledge {

StretchLimits stretchLimits(std::span<const float> values, Stretch kind, double amount) {
    if (kind == Stretch::Stored) return {0, 255};
    std::vector<float> data;
    data.reserve(values.size());
    for (const float v : values)
        if (std::isfinite(v)) data.push_back(v);
    if (data.empty()) return {0, 1};
    StretchLimits out;
    if (kind == Stretch::Spread) {
        double mean = 0, squares = 0;
        for (const float v : data) mean += static_cast<double>(v);
        mean /= static_cast<double>(data.size());
        for (const float v : data)
            squares += (static_cast<double>(v) - mean) * (static_cast<double>(v) - mean);
        const double spread = amount * std::sqrt(squares / static_cast<double>(data.size()));
        out = {mean - spread, mean + spread};
    } else {
        const double share = kind == Stretch::Trimmed ? std::clamp(amount, 0.0, 49.0) / 100 : 0;
        const auto last = static_cast<double>(data.size() - 1);
        const auto at = [&](double part) {
            const auto it = data.begin() + static_cast<std::ptrdiff_t>(std::lround(part * last));
            std::nth_element(data.begin(), it, data.end());
            return static_cast<double>(*it);
        };
        out.low = at(share);
        out.high = at(1 - share);
    }
    if (!(out.high > out.low)) out.high = out.low + 1;
    return out;
}

std::uint8_t stretched(float value, const StretchLimits& limits, double gamma) {
    const double share = (static_cast<double>(value) - limits.low) / (limits.high - limits.low);
    const double kept = share > 0 ? std::min(share, 1.0) : 0.0;
    return static_cast<std::uint8_t>(
        std::lround(255 * (gamma == 1 ? kept : std::pow(kept, 1 / gamma))));
}

}  // namespace ledge
