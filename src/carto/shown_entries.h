#pragma once
#include <map>
#include <set>

#include "carto/map_frame.h"
#include "document/drawing_data.h"

namespace ledge::carto {

/// Of each layer of categories, classes or rules, those of which a frame shows a feature or a cell,
/// by their place in the style or as LookFinder has them; layers of other kinds are not there, but
/// with no entry where the frame shows nothing of them. Of rasters about every third pixel is read.
using ShownEntries = std::map<doc::Id, std::set<int>>;
ShownEntries shownEntries(const doc::Document& document, const std::vector<doc::LayerPtr>& layers,
                          const MapFrame& frame, const doc::DrawingData& data);

}  // namespace ledge::carto
