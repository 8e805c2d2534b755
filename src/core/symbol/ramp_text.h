#pragma once
#include <string>

#include "core/base/result.h"
#include "core/symbol/ramp.h"

namespace ledge {

/// A ramp as one line: "0:#E8F1D4,250:#C9B27A", colours as parseColour() reads them.
std::string rampText(const Ramp& ramp);
/// Errors: InvalidArgument when a stop is not value:colour, or values fall.
Result<Ramp> rampFromText(const std::string& text);

}  // namespace ledge
