#pragma once
#include <string>
#include <vector>

#include "document/kinds.h"

namespace ledge::carto {

/// What of a layer's looks and labels is not to be had here, a sentence each: fonts that are not on
/// this computer, drawings that cannot be read. Another font, or the mark, stands in for each.
std::vector<std::string> symbolTroubles(const doc::VectorLayer& layer);

}  // namespace ledge::carto
