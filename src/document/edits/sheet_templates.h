#pragma once
#include <span>

#include "document/document.h"

/// Sheets ready to be filled: what stands where on a page of any size.
namespace ledge::doc {

/// Items of a template without ids; references to panels are by their place among the items, from
/// 1, and become ids when the sheet is added.
using TemplateItems = std::vector<SheetItem>;

struct SheetTemplate {
    std::string_view name;  ///< as edits and people call it
    std::string_view said;  ///< what it is for
    double widthMm = 297, heightMm = 210;
    TemplateItems (*items)(double widthMm, double heightMm, const MapView& view,
                           const std::string& crs);
};

std::span<const SheetTemplate> sheetTemplates();
/// Null when there is none.
const SheetTemplate* sheetTemplate(std::string_view name);

}  // namespace ledge::doc
