#pragma once
#include <string>
#include <vector>

#include "core/raster/raster_source.h"
#include "document/source.h"

namespace ledge::session {

struct ReadyFormula {
    std::string title, formula;
};

/// Formulas to begin with for a raster of these bands (named band1, band2 …), with the bands of
/// other rasters where one is needed. What needs two bands is left out where there is one.
std::vector<ReadyFormula> readyFormulas(const std::vector<BandInfo>& own,
                                        const std::vector<doc::LineageInput>& named);

}  // namespace ledge::session
