#pragma once
#include <string>
#include <vector>

#include "core/feature/value.h"

namespace ledge::query {

enum class Wanted : std::uint8_t { Anything, Condition };

/// Why a formula, or a condition, cannot be asked of features with these fields, in sentences;
/// empty where it can, and for an empty text.
std::string troubleWith(const std::string& text, const std::vector<Field>& fields, Wanted wanted);

}  // namespace ledge::query
