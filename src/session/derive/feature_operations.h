#pragma once
#include "session/derive/operations.h"

namespace ledge::session {

/// Rows of the table of operations that make features of features.
std::vector<Operation> featureOperations();

}  // namespace ledge::session
