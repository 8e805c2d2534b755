#pragma once
#include <vector>

#include "core/base/result.h"

namespace ledge {

/// Finite numbers separated by a sign, blanks around them allowed; none for an empty text. Errors:
/// InvalidArgument with the part that is no number.
Result<std::vector<double>> parseNumbers(const std::string& text, char separator = ',');

}  // namespace ledge
