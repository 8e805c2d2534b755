#pragma once
#include <filesystem>
#include <memory>
#include <pugixml.hpp>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace ledge::io {

/// What files of XML share: names without their prefix, text without blanks around it.
std::string_view nameOfNode(const pugi::xml_node& node);
/// The first child of a name; none without it.
pugi::xml_node child(const pugi::xml_node& node, std::string_view name);
std::string textOf(const pugi::xml_node& node);
/// An attribute by its name without prefix.
std::string attributeOf(const pugi::xml_node& node, std::string_view name);

/// Errors: IoFailure; BadFormat with the byte.
Result<std::shared_ptr<pugi::xml_document>> xmlOf(const std::filesystem::path& path);
Result<std::shared_ptr<pugi::xml_document>> xmlOf(const std::string& text,
                                                  const std::filesystem::path& named);

/// For text between and within elements; what no XML may hold is left out.
std::string xmlText(const std::string& text);

}  // namespace ledge::io
