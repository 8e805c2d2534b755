#pragma once
#include "session/derive/operations.h"

namespace ledge::session {

/// The operations on rasters: what is made of elevation models, another grid or CRS (of features,
/// too), clips, formulas over bands.
std::vector<Operation> rasterOperations();

}  // namespace ledge::session
