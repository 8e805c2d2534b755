#pragma once
#include <optional>
#include <string>

#include "core/feature/feature_table.h"

namespace ledge::globe {

/// The extent of features in degrees that lie on both sides of the antimeridian, told as one: from
/// west to an east beyond 180. Nothing for others, for those all around the earth, and for other
/// CRSs.
std::optional<Box> acrossAntimeridian(const FeatureTable& table);

/// "170° E to 160° W".
std::string longitudeWords(const Box& degrees);

}  // namespace ledge::globe
