#pragma once
#include <filesystem>
#include <span>
#include <string_view>

#include "core/base/result.h"

namespace ledge::session {

enum class SheetFormat : std::uint8_t { Pdf, Svg, Png, Jpeg, Tiff };

/// One row a format that sheets are written in; nothing else lists them.
struct SheetFormatInfo {
    SheetFormat format;
    std::string_view name, suffix,
        otherSuffix;         ///< suffixes with their dots; the second may be empty
    std::string_view said;   ///< what it is good for
    bool isPicture = false;  ///< pixels; else drawn as lines and areas
    bool hasPages = false;   ///< a series fits into one file
};
std::span<const SheetFormatInfo> sheetFormats();
/// By the suffix in any case. Errors: Unsupported, with those there are.
Result<SheetFormatInfo> sheetFormatOf(const std::filesystem::path& path);

}  // namespace ledge::session
