#pragma once
#include <pugixml.hpp>

#include "core/query/tree.h"

namespace ledge::session {

/// What OGC standards take for a pixel, millimetres.
inline constexpr double kPixelMm = 0.28;

/// A condition as an OGC filter (Filter Encoding 1.1) below a node: comparisons, LIKE, BETWEEN, IS
/// NULL, arithmetic, AND, OR, NOT. False, with nothing added, for what filters of that version do
/// not have.
bool addFilter(pugi::xml_node into, const query::Tree& condition);

/// The condition of a filter in CQL2-Text. Errors: Unsupported with the operator's name.
Result<std::string> filterText(const pugi::xml_node& filter);

}  // namespace ledge::session
