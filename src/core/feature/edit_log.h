#pragma once
#include <string>
#include <variant>

#include "core/feature/feature_table.h"

namespace ledge {

// What can be done to a table, by the keys of its features and the names of its fields. Values are
// texts as they were typed; the field they go to says what they are.

struct CellEdit {
    FeatureKey key = 0;
    std::string field;
    std::optional<std::string> value;  ///< nothing: missing
    bool operator==(const CellEdit&) const = default;
};
struct GeometryEdit {
    FeatureKey key = 0;
    Geometry geometry;  ///< in the source's own CRS; empty: without
    bool operator==(const GeometryEdit&) const = default;
};
/// A feature that the source has not; where one of this key is there it takes its place.
struct RowAdded {
    FeatureKey key = 0;
    Geometry geometry;
    bool operator==(const RowAdded&) const = default;
};
struct RowRemoved {
    FeatureKey key = 0;
    bool operator==(const RowRemoved&) const = default;
};
struct ColumnAdded {
    Field field;
    bool operator==(const ColumnAdded&) const = default;
};
struct ColumnRemoved {
    std::string name;
    bool operator==(const ColumnRemoved&) const = default;
};
struct ColumnNamed {
    std::string from, to;
    bool operator==(const ColumnNamed&) const = default;
};
/// A column filled by a formula (see query::Question), made when it is not there. Its name is that
/// of the field as it is called then.
struct ColumnComputed {
    std::string name, formula;
    std::vector<FeatureKey> rows;  ///< only these; empty: all
    bool isLive = false;           ///< follows the fields it reads, whatever is edited later
    bool operator==(const ColumnComputed&) const = default;
};
using TableEdit = std::variant<CellEdit, GeometryEdit, RowAdded, RowRemoved, ColumnAdded,
                               ColumnRemoved, ColumnNamed, ColumnComputed>;

/// What was done to a table since it was read, in order. It lies over the source, which stays as it
/// is until the edits are saved.
struct EditLog {
    std::vector<TableEdit> edits;
    bool operator==(const EditLog&) const = default;

    bool isEmpty() const { return edits.empty(); }
    /// One more; a cell or geometry set again takes the place of its last edit, so that what is
    /// done twice is done once.
    EditLog with(TableEdit edit) const;
    /// Another number for other edits.
    std::uint64_t fingerprint() const;
};

/// The table with the edits done. Columns, and coordinates as long as no geometry and no row is
/// touched, are shared with it. What cannot be done (a row or field that is not there, a value that
/// is no number) is left out and told in the notes. Errors: Cancelled.
Result<FeatureTable> edited(const FeatureTable& table, const EditLog& log,
                            const Progress& progress = {});

/// A typed text as a value of a field. Errors: InvalidArgument when it is none.
Result<Value> valueOf(const std::string& text, FieldType type);

}  // namespace ledge
