#pragma once
#include <nlohmann/json.hpp>
#include <string>

namespace ledge::doc {

/// How deep objects and lists may lie in each other: whatever walks through them later does so by
/// calling itself. Groups may be half as deep.
inline constexpr int kDeepestJson = 512;

/// A JSON text. Throws what the parser throws, and a Misfit where it is nested deeper.
nlohmann::ordered_json parsedJson(const std::string& text);
/// The same, discarded where the text is none, or nested deeper.
nlohmann::ordered_json jsonOrNone(const std::string& text);

}  // namespace ledge::doc
