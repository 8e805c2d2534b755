#pragma once
#include "document/json/style_json.h"

namespace ledge::doc {

Json sheetJson(const Sheet& sheet);
Sheet sheetFrom(const Json& json);

/// Layers as they stand in the project; also of frozen panels.
Json layersJson(const std::vector<LayerPtr>& layers);
std::vector<LayerPtr> layersFrom(const Json& json, int depth = 0);

}  // namespace ledge::doc
