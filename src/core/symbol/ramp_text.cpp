#include "core/symbol/ramp_text.h"

#include <cmath>
#include <sstream>

#include "core/base/numbers.h"

namespace ledge {

std::string rampText(const Ramp& ramp) {
    std::string out;
    for (const RampStop& stop : ramp.stops)
        out += (out.empty() ? "" : ",") + exactNumber(stop.value) + ":" + colourText(stop.colour);
    return out;
}

Result<Ramp> rampFromText(const std::string& text) {
    Ramp out;
    std::stringstream in(text);
    for (std::string part; std::getline(in, part, ',');) {
        const auto colon = part.find(':');
        const auto value =
            colon == std::string::npos ? std::nullopt : parseNumber(part.substr(0, colon));
        const auto colour =
            value ? parseColour(trimmed(part.substr(colon + 1))) : std::optional<Colour>();
        if (!colour || !std::isfinite(*value))
            return Error{ErrorCode::InvalidArgument, "\"" + part + "\"", "is no stop of a ramp",
                         "write value:colour, for example 0:#E8F1D4,250:#C9B27A"};
        if (!out.stops.empty() && *value < out.stops.back().value)
            return Error{ErrorCode::InvalidArgument, "\"" + part + "\"",
                         "is below the stop before it", "list stops from low to high"};
        out.stops.push_back({*value, *colour});
    }
    if (out.stops.size() < 2)
        return Error{ErrorCode::InvalidArgument, "ramp", "has fewer than two stops",
                     "write value:colour,value:colour"};
    return out;
}

}  // namespace ledge
