#pragma once
#include <cstdint>

namespace ledge::doc {

/// Names one thing of a document: a source, layer, view, profile, sheet or item. 0: none.
using Id = std::int64_t;

}  // namespace ledge::doc
