#include "io/geopackage/spatial_index.h"

#include <algorithm>
#include <cmath>

#include "core/geometry/packed_tree.h"
#include "io/files/byte_reader.h"

namespace ledge::io {
namespace {
constexpr const char* kExtension = "gpkg_rtree_index";
constexpr const char* kSchema = R"sql(
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

void sortAlongCurve(std::vector<Indexed>& features) {
    Box all;
    for (const Indexed& one : features) all.add(one.box);
    const double toX = all.width() > 0 ? 65535 / all.width() : 0,
                 toY = all.height() > 0 ? 65535 / all.height() : 0;
    std::vector<std::pair<std::uint32_t, std::size_t>> order;
    order.reserve(features.size());
    const auto cell = [](double v) {
        return v >= 0 && v <= 65535 ? static_cast<std::uint32_t>(v) : 0U;
    };
    for (std::size_t i = 0; i < features.size(); ++i) {
        const Point c = features[i].box.centre();
        order.emplace_back(hilbertPlace(cell((c.x - all.xMin) * toX), cell((c.y - all.yMin) * toY)),
                           i);
    }
    std::sort(order.begin(), order.end());
    std::vector<Indexed> sorted;
    sorted.reserve(features.size());
    for (const auto& [place, i] : order) sorted.push_back(features[i]);
    features = std::move(sorted);
}

/// The nodes of a packed tree, from the leaves up; the root is the last.
struct Nodes {
    std::vector<std::string> data;
    std::vector<std::size_t> parent;  ///< of each, by its place; its own for the root
    std::vector<std::size_t> leafOf;  ///< of each feature
    std::size_t depth = 0;
};
Nodes packed(const std::vector<Indexed>& features, std::size_t nodeBytes) {
    constexpr std::size_t kHead = 4, kCell = 24;
    const std::size_t most = (nodeBytes - kHead) / kCell;
    Nodes out;
    std::vector<Indexed> level = features;  // keys of upper levels: places of nodes
    for (bool isLeaf = true;; isLeaf = false) {
        std::vector<Indexed> above;
        for (std::size_t from = 0; from < level.size(); from += most) {
            const std::size_t to = std::min(from + most, level.size());
            std::string node;
            node.reserve(nodeBytes);
            putNumber(node, std::uint16_t{0}, std::endian::big);
            putNumber(node, static_cast<std::uint16_t>(to - from), std::endian::big);
            Indexed whole{static_cast<std::int64_t>(out.data.size()), {}};
            for (std::size_t i = from; i < to; ++i) {
                putCell(node, level[i]);
                whole.box.add(level[i].box);
                if (isLeaf)
                    out.leafOf.push_back(out.data.size());
                else
                    out.parent[static_cast<std::size_t>(level[i].key)] = out.data.size();
            }
            node.resize(nodeBytes, '\0');
            out.parent.push_back(out.data.size());
            out.data.push_back(std::move(node));
            above.push_back(whole);
        }
        if (above.size() == 1) return out;
        ++out.depth;
        level = std::move(above);
    }
}

// Nodes are numbered so that the root is 1; within them children stand by their places so far.
Result<void> putNodes(const Database& db, const std::string& name, Nodes nodes,
                      const std::vector<Indexed>& features) {
    const std::size_t root = nodes.data.size() - 1;
    const auto numberOf = [&](std::size_t place) {
        return place == root ? std::int64_t{1} : static_cast<std::int64_t>(place + 2);
    };
    std::vector<bool> isLeaf(nodes.data.size(), false);
    for (const std::size_t leaf : nodes.leafOf) isLeaf[leaf] = true;
    const auto node =
        db.prepare("INSERT OR REPLACE INTO " + sqlName(name + "_node") + " VALUES (?1,?2)");
    const auto parent = db.prepare("INSERT INTO " + sqlName(name + "_parent") + " VALUES (?1,?2)");
    const auto row =
        db.prepare("INSERT INTO " + sqlName(name + "_rowid") + "(rowid,nodeno) VALUES (?1,?2)");
    if (!node || !parent || !row) return db.failure();
    for (std::size_t i = 0; i < nodes.data.size(); ++i) {
        std::string& data = nodes.data[i];
        if (i == root) {
            std::string depth;
            putNumber(depth, static_cast<std::uint16_t>(nodes.depth), std::endian::big);
            data.replace(0, 2, depth);
        }
        if (!isLeaf[i]) {
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
        parent->bind(2, numberOf(nodes.parent[i]));
        if (!parent->execute()) return db.failure();
    }
    std::vector<std::pair<std::int64_t, std::int64_t>> rows;
    rows.reserve(features.size());
    for (std::size_t i = 0; i < features.size(); ++i)
        rows.emplace_back(features[i].key, numberOf(nodes.leafOf[i]));
    std::sort(rows.begin(), rows.end());  // appended in their order
    for (const auto& [key, number] : rows) {
        row->bind(1, key);
        row->bind(2, number);
        if (!row->execute()) return db.failure();
    }
    return {};
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

Result<void> writeSpatialIndex(const Database& db, const std::string& table,
                               const std::string& column, const std::string& key,
                               std::vector<Indexed> features) {
    const std::string name = nameOf(table, column);
    if (const auto done = db.run(kSchema + ("CREATE VIRTUAL TABLE " + sqlName(name)) +
                                 " USING rtree(id, minx, maxx, miny, maxy)");
        !done)
        return done;
    std::erase_if(features, [](const Indexed& one) { return one.box.isEmpty(); });
    if (!features.empty()) {
        // As many bytes as SQLite made the empty root of.
        const auto size =
            db.prepare("SELECT length(data) FROM " + sqlName(name + "_node") + " WHERE nodeno = 1");
        if (!size || !size->step()) return db.failure();
        sortAlongCurve(features);
        Nodes nodes = packed(features, static_cast<std::size_t>(size->whole(0)));
        if (const auto done = putNodes(db, name, std::move(nodes), features); !done) return done;
    }
    const auto put = db.prepare("INSERT OR REPLACE INTO gpkg_extensions VALUES (?1,?2,?3,"
                                "'http://www.geopackage.org/spec120/#extension_rtree',"
                                "'write-only')");
    if (!put) return put.error();
    put->bind(1, table);
    put->bind(2, column);
    put->bind(3, std::string(kExtension));
    if (!put->execute()) return db.failure();
    return db.run(triggers(name, table, column, key));
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
