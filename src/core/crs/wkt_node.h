#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/base/numbers.h"
#include "core/base/result.h"

namespace ledge::crs {

/// One KEYWORD[...] of a WKT text with its quoted or bare values and inner nodes, in order of
/// appearance.
struct WktNode {
    std::string keyword;
    std::vector<std::string> values;
    std::vector<WktNode> children;

    /// The first inner node of one of these keywords; null when there is none.
    const WktNode* child(std::initializer_list<std::string_view> names) const;
    std::string text(std::size_t i) const { return i < values.size() ? values[i] : ""; }
    std::optional<double> number(std::size_t i) const { return parseNumber(text(i)); }
};

/// Errors: BadFormat with the offset.
Result<WktNode> parseWkt(const std::string& text);

}  // namespace ledge::crs
