#include "io/geopackage/spatial_index.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/packed_tree.h"
#include "io/files/byte_reader.h"

namespace ledge::io {
namespace {
constexpr const char* kExtension = "gpkg_rtree_index";
constexpr const char* kTriggers = R"sql(
CREATE TABLE IF NOT EXISTS gpkg_extensions (table_name TEXT, column_name TEXT,
  extension_name TEXT NOT NULL, definition TEXT NOT NULL, scope TEXT NOT NULL,
  CONSTRAINT ge_tce UNIQUE (table_name, column_name, extension_name));
)sql";

std::string nameOf(const std::string& table, const std::string& column) {
    return "rtree_" + table + "_" + column;
}

// Outwards, so that what a box holds is found.
float down(double v) {
    const auto f = static_cast<float>(v);
    return static_cast<double>(f) > v ? std::nextafterf(f, -INFINITY) : f;
}
float up(double v) {
    const auto f = static_cast<float>(v);
    return static_cast<double>(f) < v ? std::nextafterf(f, INFINITY) : f;
}

// A cell of a node: what it is of, and its box as SQLite keeps it (all big-endian).
void putCell(std::string& out, const Indexed& of) {
    putNumber(out, of.key, std::endian::big);
    for (const float v : {down(of.box.xMin), up(of.box.xMax), down(of.box.yMin), up(of.box.yMax)})
        putNumber(out, v, std::endian::big);
}

std::vector<Indexed> alongCurve(const std::vector<Indexed>& features) {
    std::vector<Box> boxes;
    boxes.reserve(features.size());
    for (const Indexed& one : features) boxes.push_back(one.box);
    std::vector<Indexed> out;
    out.reserve(features.size());
    for (const std::uint32_t i : hilbertOrder(boxes)) out.push_back(features[i]);
    return out;
}

// The triggers of the standard; programs that edit the layer bring the functions they call.
std::string triggers(const std::string& name, const std::string& table, const std::string& column,
                     const std::string& key) {
    const std::string t = sqlName(table), c = sqlName(column), i = sqlName(key), r = sqlName(name);
    const auto trigger = [&](const char* what, const std::string& when, const std::string& does) {
        return "CREATE TRIGGER " + sqlName(name + "_" + what) + " AFTER " + when + " BEGIN " +
               does + " END;\n";
    };
    const std::string there = "(NEW." + c + " NOTNULL AND NOT ST_IsEmpty(NEW." + c + "))",
                      empty = "(NEW." + c + " ISNULL OR ST_IsEmpty(NEW." + c + "))",
                      put = "INSERT OR REPLACE INTO " + r + " VALUES (NEW." + i + ",ST_MinX(NEW." +
                            c + "),ST_MaxX(NEW." + c + "),ST_MinY(NEW." + c + "),ST_MaxY(NEW." + c +
                            "));",
                      drop = "DELETE FROM " + r + " WHERE id = OLD." + i + ";",
                      same = "OLD." + i + " = NEW." + i, other = "OLD." + i + " != NEW." + i;
    return trigger("insert", "INSERT ON " + t + " WHEN " + there, put) +
           trigger("update1", "UPDATE OF " + c + " ON " + t + " WHEN " + same + " AND " + there,
                   put) +
           trigger("update2", "UPDATE OF " + c + " ON " + t + " WHEN " + same + " AND " + empty,
                   drop) +
           trigger("update3", "UPDATE ON " + t + " WHEN " + other + " AND " + there, drop + put) +
           trigger("update4", "UPDATE ON " + t + " WHEN " + other + " AND " + empty,
                   "DELETE FROM " + r + " WHERE id IN (OLD." + i + ", NEW." + i + ");") +
           trigger("delete", "DELETE ON " + t + " WHEN old." + c + " NOTNULL", drop);
}
}  // namespace

PackedIndex::PackedIndex(std::vector<Indexed> features, std::size_t nodeBytes) {
    constexpr std::size_t kHead = 4, kCell = 24;
    const std::size_t most = (nodeBytes - kHead) / kCell;
    std::erase_if(features, [](const Indexed& one) { return one.box.isEmpty(); });
    if (features.empty()) return;
    std::vector<Indexed> level = alongCurve(features);  // keys of upper levels: places of nodes
    m_leaves.reserve(level.size());
    for (bool isLeaf = true;; isLeaf = false) {
        std::vector<Indexed> above;
        for (std::size_t from = 0; from < level.size(); from += most) {
            const std::size_t to = std::min(from + most, level.size()), place = m_nodes.size();
            std::string node;
            node.reserve(nodeBytes);
            putNumber(node, std::uint16_t{0}, std::endian::big);
            putNumber(node, static_cast<std::uint16_t>(to - from), std::endian::big);
            Indexed whole{static_cast<std::int64_t>(place), {}};
            for (std::size_t i = from; i < to; ++i) {
                putCell(node, level[i]);
                whole.box.add(level[i].box);
                if (isLeaf)
                    m_leaves.emplace_back(level[i].key, place);
                else
                    m_parents[static_cast<std::size_t>(level[i].key)] = place;
            }
            node.resize(nodeBytes, '\0');
            m_parents.push_back(place);
            m_isLeaf.push_back(isLeaf);
            m_nodes.push_back(std::move(node));
            above.push_back(whole);
        }
        if (above.size() == 1) break;
        ++m_depth;
        level = std::move(above);
    }
    std::sort(m_leaves.begin(), m_leaves.end());  // appended in their order
}

Result<SpatialIndex> SpatialIndex::begin(const Database& db, const std::string& table,
                                         const std::string& column) {
    SpatialIndex out;
    out.m_db = &db, out.m_table = table, out.m_column = column;
    out.m_name = nameOf(table, column);
    if (const auto done = db.run(kTriggers + ("CREATE VIRTUAL TABLE " + sqlName(out.m_name)) +
                                 " USING rtree(id, minx, maxx, miny, maxy)");
        !done)
        return done.error();
    // As many bytes as SQLite made the empty root of.
    const auto size = db.prepare("SELECT length(data) FROM " + sqlName(out.m_name + "_node") +
                                 " WHERE nodeno = 1");
    if (!size || !size->step()) return db.failure();
    out.m_nodeBytes = static_cast<std::size_t>(size->whole(0));
    return out;
}

// Nodes are numbered so that the root is 1; within them children stand by their places so far.
Result<void> SpatialIndex::put(PackedIndex packed) const {
    const Database& db = *m_db;
    const std::size_t root = packed.m_nodes.size() - 1;
    const auto numberOf = [&](std::size_t place) {
        return place == root ? std::int64_t{1} : static_cast<std::int64_t>(place + 2);
    };
    const auto node =
        db.prepare("INSERT OR REPLACE INTO " + sqlName(m_name + "_node") + " VALUES (?1,?2)");
    const auto parent =
        db.prepare("INSERT INTO " + sqlName(m_name + "_parent") + " VALUES (?1,?2)");
    if (!node || !parent) return db.failure();
    for (std::size_t i = 0; i < packed.m_nodes.size(); ++i) {
        std::string& data = packed.m_nodes[i];
        if (i == root) {
            std::string depth;
            putNumber(depth, static_cast<std::uint16_t>(packed.m_depth), std::endian::big);
            data.replace(0, 2, depth);
        }
        if (!packed.m_isLeaf[i]) {
            ByteReader in(bytesOf(data));
            in.skip(2);
            const auto count = in.read<std::uint16_t>(std::endian::big);
            for (std::size_t k = 0; k < count; ++k) {
                in.seek(4 + 24 * k);
                std::string number;
                putNumber(
                    number,
                    numberOf(static_cast<std::size_t>(in.read<std::int64_t>(std::endian::big))),
                    std::endian::big);
                data.replace(4 + 24 * k, 8, number);
            }
        }
        node->bind(1, numberOf(i));
        node->bindBlob(2, data);
        if (!node->execute()) return db.failure();
        if (i == root) continue;
        parent->bind(1, numberOf(i));
        parent->bind(2, numberOf(packed.m_parents[i]));
        if (!parent->execute()) return db.failure();
    }
    return insertRows(db, m_name + "_rowid", {"rowid", "nodeno"}, packed.m_leaves.size(),
                      [&](const Statement& row, std::size_t i, int first) {
                          row.bind(first, packed.m_leaves[i].first);
                          row.bind(first + 1, numberOf(packed.m_leaves[i].second));
                      });
}

Result<void> SpatialIndex::write(PackedIndex packed, const std::string& key) const {
    const Database& db = *m_db;
    if (!packed.m_nodes.empty())
        if (const auto done = this->put(std::move(packed)); !done) return done;
    const auto put = db.prepare("INSERT OR REPLACE INTO gpkg_extensions VALUES (?1,?2,?3,"
                                "'http://www.geopackage.org/spec120/#extension_rtree',"
                                "'write-only')");
    if (!put) return put.error();
    put->bind(1, m_table);
    put->bind(2, m_column);
    put->bind(3, std::string(kExtension));
    if (!put->execute()) return db.failure();
    return db.run(triggers(m_name, m_table, m_column, key));
}

Result<void> dropSpatialIndex(const Database& db, const std::string& table,
                              const std::string& column) {
    if (!spatialIndexOf(db, table, column)) return {};
    {
        const auto row =
            db.prepare("DELETE FROM gpkg_extensions WHERE table_name = ?1 AND extension_name = ?2");
        if (!row) return row.error();
        row->bind(1, table);
        row->bind(2, std::string(kExtension));
        if (!row->execute()) return db.failure();
    }
    return db.run("DROP TABLE IF EXISTS " + sqlName(nameOf(table, column)));
}

std::optional<std::string> spatialIndexOf(const Database& db, const std::string& table,
                                          const std::string& column) {
    const auto row = db.prepare("SELECT 1 FROM gpkg_extensions WHERE table_name = ?1 AND "
                                "column_name = ?2 AND extension_name = ?3 AND EXISTS (SELECT 1 "
                                "FROM sqlite_master WHERE name = ?4)");
    if (!row) return {};  // a file without extensions
    const std::string name = nameOf(table, column);
    row->bind(1, table);
    row->bind(2, column);
    row->bind(3, std::string(kExtension));
    row->bind(4, name);
    return row->step() ? std::optional(name) : std::nullopt;
}

}  // namespace ledge::io
