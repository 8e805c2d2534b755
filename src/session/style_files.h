#pragma once
#include <filesystem>

#include "core/base/result.h"
#include "document/document.h"

namespace ledge::session {

/// Writes a layer's look by the suffix: .ledgestyle keeps all of it, .sld (OGC SLD 1.1) what that
/// reaches. What is lost, in words. Errors: Unsupported for other suffixes and, of .sld, for layers
/// that are not of features; those of writing.
Result<std::vector<std::string>> writeStyle(const doc::Layer& layer,
                                            const std::filesystem::path& path);

struct ReadStyle {
    std::string text;  ///< as the edit "layer-style" takes it
    std::vector<std::string> losses;
};
/// Reads a look for a layer, by what the file holds. Errors: those of reading; BadFormat.
Result<ReadStyle> readStyle(const std::filesystem::path& path, const doc::Layer& layer);

}  // namespace ledge::session
