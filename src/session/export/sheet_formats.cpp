#include "session/export/sheet_formats.h"

#include <array>

#include "core/base/numbers.h"

namespace ledge::session {
namespace {
constexpr std::array kFormats{
    SheetFormatInfo{SheetFormat::Pdf, "PDF", ".pdf", "",
                    "lines, text and layers that can be switched", false, true},
    SheetFormatInfo{SheetFormat::Svg, "SVG", ".svg", "", "to go on drawing with", false, false},
    SheetFormatInfo{SheetFormat::Png, "PNG", ".png", "", "a picture without loss", true, false},
    SheetFormatInfo{SheetFormat::Jpeg, "JPEG", ".jpg", ".jpeg", "a small picture", true, false},
    SheetFormatInfo{SheetFormat::Tiff, "GeoTIFF", ".tif", ".tiff", "a picture that lies on the map",
                    true, false},
};
}  // namespace

std::span<const SheetFormatInfo> sheetFormats() { return kFormats; }

Result<SheetFormatInfo> sheetFormatOf(const std::filesystem::path& path) {
    const std::string suffix = lowered(path.extension().string());
    std::string known;
    for (const SheetFormatInfo& one : kFormats) {
        if (!suffix.empty() && (suffix == one.suffix || suffix == one.otherSuffix)) return one;
        known += (known.empty() ? "" : ", ") + std::string(one.suffix);
    }
    return Error{ErrorCode::Unsupported, path.string(), "cannot be written as " + suffix,
                 "use one of " + known};
}

}  // namespace ledge::session
