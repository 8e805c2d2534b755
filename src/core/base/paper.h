#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"

/// Lengths and pages on paper, in millimetres.
namespace ledge {

/// "6 in", "15.2cm", "210 mm", "72 pt", 6"; a number alone is millimetres. Errors: of others, with
/// the units there are.
Result<double> paperMm(std::string_view text);

/// A page size with a name, upright. ISO 216 and ANSI/ASME Y14.1.
struct NamedPage {
    std::string_view name;
    double widthMm = 0, heightMm = 0;
};
const std::vector<NamedPage>& namedPages();
/// Null when there is none.
const NamedPage* pageNamed(std::string_view name);
/// "A4 across", "Letter", or "152.4 × 152.4 mm" where the size has no name.
std::string pageText(double widthMm, double heightMm);

}  // namespace ledge
