#pragma once
#include <string>
#include <string_view>

namespace ledge::io {

/// The text itself when it is valid UTF-8, else read as ISO 8859-1.
std::string toUtf8(std::string_view text);

}  // namespace ledge::io
