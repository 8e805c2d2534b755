#pragma once
#include "core/feature/feature_table.h"
#include "core/query/summaries.h"
#include "document/shown_value.h"

namespace ledge::session {

/// What the values of a column come to, for its head.
struct ColumnFacts {
    query::Summary summary;
    std::vector<std::int64_t> bins;  ///< of numbers, from the smallest to the largest, equally wide
};
/// Errors: Cancelled.
Result<ColumnFacts> columnFacts(const FeatureTable& table, std::size_t field,
                                const Progress& progress = {});

/// A column of the attribute table as it is shown.
struct ShownColumn {
    std::size_t field = 0;
    doc::ColumnLook look;
};
/// The columns of a table: those that a layer puts somewhere in its order, then the others as they
/// are; hidden ones too when asked for. Frozen ones first.
std::vector<ShownColumn> shownColumns(const LayerInfo& info, const doc::VectorLayer& layer,
                                      bool withHidden = false);
using doc::shownText;
/// One line for the head of a column: what is missing, mean or sum or how many are different.
std::string summaryText(const ColumnFacts& facts, const Field& field, const doc::ColumnLook& look);

/// Rows as text with tabs between cells, as spreadsheets take it, names of the columns first.
/// Numbers as they read back exactly. At most `most` bytes; whether all went in is told.
std::pair<std::string, bool> tabbedText(const FeatureTable& table,
                                        const std::vector<ShownColumn>& columns,
                                        const std::vector<std::uint32_t>& rows, std::size_t most);

}  // namespace ledge::session
