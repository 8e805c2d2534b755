#pragma once
#include "core/feature/feature_table.h"

namespace ledge::session {

/// What is found and put in its place in the cells of a table.
struct Replacing {
    std::string find, with;
    bool isWholeCell = false;  ///< the cell is the text, not a part of it
    bool isCaseKept = false;   ///< capitals count
};
/// Cells that become others, as the edit "cells-set" takes them, and how many they are. Numbers and
/// dates are looked at as they are written exactly; what would be none any more is left out and
/// counted. `rows` and `fields` are places in the table. Errors: Cancelled.
struct Replaced {
    std::string cells;
    std::size_t count = 0, refused = 0;
};
Result<Replaced> replaced(const FeatureTable& table, const std::vector<std::uint32_t>& rows,
                          const std::vector<std::size_t>& fields, const Replacing& what,
                          const Progress& progress = {});

}  // namespace ledge::session
