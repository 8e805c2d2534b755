#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace ledge::io {

/// Text with commas between cells (RFC 4180): quoted cells may hold commas, line breaks and doubled
/// quotes. Blank lines are left out.
std::vector<std::vector<std::string>> csvRows(std::string_view text);
/// A cell, quoted when it must be.
std::string csvCell(const std::string& text);

}  // namespace ledge::io
