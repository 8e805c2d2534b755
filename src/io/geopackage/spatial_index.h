#pragma once
#include <optional>
#include <string>
#include <vector>

#include "core/geometry/point.h"
#include "io/geopackage/database.h"

/// The R-tree extension of GeoPackage (OGC 12-128r18, annex F.3): a virtual table of SQLite beside
/// the layer's, kept up by triggers.
namespace ledge::io {

struct Indexed {
    std::int64_t key = 0;
    Box box;
};

/// Makes the index of a layer, announces it and has it kept up. Nodes are packed along a Hilbert
/// curve and written as SQLite keeps them, which takes a tenth of inserting row by row. Empty boxes
/// are left out. Errors: IoFailure.
Result<void> writeSpatialIndex(const Database& db, const std::string& table,
                               const std::string& column, const std::string& key,
                               std::vector<Indexed> features);
/// Takes the index of a layer away, if it has one, before the layer goes. Errors: IoFailure.
Result<void> dropSpatialIndex(const Database& db, const std::string& table,
                              const std::string& column);
/// The name of a layer's index; nothing when it has none.
std::optional<std::string> spatialIndexOf(const Database& db, const std::string& table,
                                          const std::string& column);

}  // namespace ledge::io
