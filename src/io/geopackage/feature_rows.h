#pragma once
#include "core/feature/feature.h"
#include "io/geopackage/database.h"

namespace ledge::io {

/// Where a layer's table has what every feature has.
struct LayerColumns {
    std::string geometry, key;
    bool isKeyUnique = false;  ///< it is SQLite's own number of the row
};

/// The SQL that gives a layer's features, with the fields of these places, for readRow(): without a
/// condition yet.
std::string featureRows(const LayerInfo& layer, const LayerColumns& columns,
                        std::span<const std::size_t> fields);
std::vector<FieldType> typesOf(const LayerInfo& layer, std::span<const std::size_t> fields);

/// The feature in a row, into one used before, so that its arrays need not be made anew. A geometry
/// that cannot be read is left out.
void readRow(const Statement& row, std::span<const FieldType> types, Feature& out);

/// What a feature takes in a table, roughly.
std::uint64_t bytesOf(const Feature& feature);

}  // namespace ledge::io
