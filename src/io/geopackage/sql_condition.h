#pragma once
#include <string>

#include "core/feature/feature_table.h"

namespace ledge::io {

/// What SQLite can say of a condition in CQL2-Text beforehand, as SQL: it holds for every row for
/// which the condition does, and for as few others as may be told. Whoever asks looks at what comes
/// once more, so that answers never depend on it. Empty where nothing can be said.
std::string sqlCondition(const std::string& keep, const LayerInfo& layer);

}  // namespace ledge::io
