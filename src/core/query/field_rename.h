#pragma once
#include <string>

namespace ledge::query {

/// A field or formula after a field got another name: where that stands alone or in the formula
/// stands the new one, all else as it was written. What cannot be read stays as it is.
std::string withFieldRenamed(const std::string& said, const std::string& from,
                             const std::string& to);

}  // namespace ledge::query
