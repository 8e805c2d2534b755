#pragma once
#include "core/base/result.h"
#include "document/document.h"

/// Sheets and their items as texts of their own: for the clipboard, and for templates kept as
/// files.
namespace ledge::doc {

/// Files of sheets are called so.
inline constexpr const char* kSheetSuffix = ".ledgesheet";

/// Items with all they have. Paths of pictures are absolute.
std::string itemsText(const Sheet& sheet, const std::vector<Id>& items);
/// Errors: BadFormat for texts that are no items.
Result<std::vector<SheetItem>> itemsFromText(const std::string& text);

/// A whole sheet. Paths of pictures are relative to the folder.
std::string sheetText(const Sheet& sheet, const std::filesystem::path& folder);
Result<Sheet> sheetFromText(const std::string& text, const std::filesystem::path& folder);

}  // namespace ledge::doc
