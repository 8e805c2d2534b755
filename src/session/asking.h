#pragma once
#include "core/query/question.h"
#include "core/query/summaries.h"

namespace ledge::session {

/// What is asked of a layer: a condition, being near to features of another layer, or both.
struct Asked {
    std::string keep;  ///< CQL2-Text; empty: all
    /// Features that must be near; null: no matter.
    TablePtr near = nullptr;
    std::string nearKeep = {};  ///< which of them; empty: all
    double withinMetres = 0;    ///< on the ellipsoid
    /// A relation in place of nearness, by its name in kRelationNames; empty or "near": none.
    std::string relation = {};
};

/// The rows of a table that answer. Errors: those of the conditions, of Nearness; Cancelled.
Result<query::Rows> askedRows(const FeatureTable& table, const Asked& asked,
                              const Progress& progress = {}, query::Place* place = nullptr);

/// A table of some rows with some columns: fields by name, then computed ones.
struct Computing {
    std::string name, formula;
};
/// Only the named fields, all when not given, and the computed columns behind them; formulas see
/// every field and row of `table`, so that sums are those of all. What had no value is told in
/// `remarks`. Errors: NotFound for a field that is not there; those of formulas; Cancelled.
Result<FeatureTable> selectedTable(const FeatureTable& table, const std::vector<std::size_t>* rows,
                                   const std::optional<std::vector<std::string>>& columns,
                                   const std::vector<Computing>& computing,
                                   std::vector<std::string>& remarks,
                                   const Progress& progress = {});

}  // namespace ledge::session
