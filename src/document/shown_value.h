#pragma once
#include <string>

#include "core/feature/value.h"
#include "document/document.h"

namespace ledge::doc {

/// A value as a column shows it: numbers with its decimals, as percent, with its unit; "–" when
/// missing.
std::string shownText(const Value& value, const ColumnLook& look);

}  // namespace ledge::doc
