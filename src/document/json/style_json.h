#pragma once
#include <nlohmann/json.hpp>

#include "document/document.h"

namespace ledge::doc {

using Json = nlohmann::ordered_json;

Json styleJson(const VectorStyle& style);
Json styleJson(const LabelStyle& style);
Json styleJson(const RasterStyle& style);
Json styleJson(const TintStyle& style);
Json styleJson(const HillshadeStyle& style);
Json styleJson(const SteepnessStyle& style);
Json styleJson(const ContourStyle& style);
Json styleJson(const GridStyle& style);

/// Throw nlohmann's exceptions for wrong types; projectFromText turns them into an Error.
void readStyle(const Json& json, VectorStyle& style);
void readStyle(const Json& json, LabelStyle& style);
void readStyle(const Json& json, RasterStyle& style);
void readStyle(const Json& json, TintStyle& style);
void readStyle(const Json& json, HillshadeStyle& style);
void readStyle(const Json& json, SteepnessStyle& style);
void readStyle(const Json& json, ContourStyle& style);
void readStyle(const Json& json, GridStyle& style);

Colour colourFrom(const Json& json, Colour fallback);

}  // namespace ledge::doc
