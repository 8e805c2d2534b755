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

/// The nodes of an index, from the leaves up, packed along a Hilbert curve; the root is the last.
/// Empty boxes are left out.
class PackedIndex {
public:
    PackedIndex(std::vector<Indexed> features, std::size_t nodeBytes);

private:
    friend class SpatialIndex;
    std::vector<std::string> m_nodes;
    std::vector<std::size_t> m_parents;  ///< of each node, by its place; its own for the root
    std::vector<std::pair<std::int64_t, std::size_t>> m_leaves;  ///< by key, ascending
    std::vector<bool> m_isLeaf;
    std::size_t m_depth = 0;
};

/// The index of a layer while it is made: nodes are written as SQLite keeps them, which takes a
/// tenth of inserting row by row.
class SpatialIndex {
public:
    /// An empty one. Errors: IoFailure.
    static Result<SpatialIndex> begin(const Database& db, const std::string& table,
                                      const std::string& column);
    std::size_t nodeBytes() const { return m_nodeBytes; }
    /// Fills it, announces it and has it kept up; `key` is the column of keys. Errors: IoFailure.
    Result<void> write(PackedIndex packed, const std::string& key) const;

private:
    const Database* m_db = nullptr;
    std::string m_table, m_column, m_name;
    std::size_t m_nodeBytes = 0;
    Result<void> put(PackedIndex packed) const;
};
/// Takes the index of a layer away, if it has one, before the layer goes. Errors: IoFailure.
Result<void> dropSpatialIndex(const Database& db, const std::string& table,
                              const std::string& column);
/// The name of a layer's index; nothing when it has none.
std::optional<std::string> spatialIndexOf(const Database& db, const std::string& table,
                                          const std::string& column);

}  // namespace ledge::io
