#pragma once
#include <nlohmann/json.hpp>

namespace ledge::doc {

/// A project's text as it was parsed, with what earlier versions called otherwise under the names
/// of today. Anything else stays as it is.
nlohmann::ordered_json withTodaysKeys(nlohmann::ordered_json project);

}  // namespace ledge::doc
