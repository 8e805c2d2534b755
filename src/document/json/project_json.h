#pragma once
#include <filesystem>
#include <string>

#include "core/base/result.h"
#include "document/document.h"

namespace ledge::doc {

/// Text of a .ledge project: readable JSON, keys in a fixed order, paths relative to `folder`. What
/// the file it was read from held beyond what this version knows (members, kinds, choices) stands
/// in it again as it was.
std::string projectText(const Document& document, const std::filesystem::path& folder);

/// A project from its text. Unknown members are kept for writing; wrong ones are an error that
/// names the place. Errors: BadFormat, Unsupported for a newer version.
Result<Document> projectFromText(const std::string& text, const std::filesystem::path& folder);

}  // namespace ledge::doc
