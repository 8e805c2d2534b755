#pragma once
#include <vector>

#include "core/base/progress.h"
#include "core/feature/feature_table.h"

namespace ledge {

/// A field by which rows are ordered.
struct OrderBy {
    std::size_t field = 0;
    bool isDescending = false;
    bool operator==(const OrderBy&) const = default;
};

/// Rows in the order of one field, rows alike in it by the next, at last as they stand in the
/// table. Texts go by their letters whatever the case; what is missing comes last either way.
/// `rows` are those to order. Errors: Cancelled.
Result<std::vector<std::uint32_t>> ordered(const FeatureTable& table,
                                           const std::vector<OrderBy>& by,
                                           std::vector<std::uint32_t> rows,
                                           const Progress& progress = {});

/// Rows in which a text occurs in one of the fields, whatever its case; numbers, days and the like
/// as exactText has them. Errors: Cancelled.
Result<std::vector<std::uint32_t>> rowsWithText(const FeatureTable& table,
                                                const std::vector<std::size_t>& fields,
                                                const std::string& text,
                                                const Progress& progress = {});

}  // namespace ledge
