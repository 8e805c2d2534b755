#pragma once
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "core/feature/feature_table.h"
#include "document/document.h"

namespace ledge::doc {

/// A field or formula of the Ask language that a layer is drawn or labelled by.
struct LayerFormula {
    std::string owner;  ///< "its style" or "its labels"
    std::string said;
    bool operator==(const LayerFormula&) const = default;
};

/// All that a layer works out for its rows; of labels, those that are on.
std::vector<LayerFormula> formulasOf(const VectorLayer& layer);

/// What of a layer names fields that are not there or cannot be understood over them, in a
/// sentence; empty when all can be.
std::string troubleOf(const VectorLayer& layer, const LayerInfo& info);

/// The rows that a formula gives no value for though nothing in them is missing, counted, with the
/// first of them and why, a sentence a formula; they are drawn as rows without a value. Formulas
/// that cannot be understood are passed over. Errors: Cancelled.
Result<std::vector<std::string>> rowTroubles(const VectorLayer& layer, const FeatureTable& table,
                                             const Progress& progress = {});

}  // namespace ledge::doc
