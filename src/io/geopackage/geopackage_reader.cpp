#include <mutex>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/files/reading_limit.h"
#include "io/geopackage/database.h"
#include "io/geopackage/feature_rows.h"
#include "io/geopackage/geopackage.h"
#include "io/geopackage/geopackage_pieces.h"
#include "io/geopackage/spatial_index.h"
#include "io/geopackage/spatial_reference.h"
#include "io/geopackage/sql_condition.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

FieldType fieldTypeOf(const std::string& declared) {
    const std::string type = lowered(declared);
    if (type == "boolean") return FieldType::Boolean;
    if (type.find("int") != std::string::npos) return FieldType::Integer;
    if (type == "real" || type == "double" || type == "float") return FieldType::Real;
    if (type == "date") return FieldType::Date;
    if (type == "datetime") return FieldType::TimeStamp;
    if (type.starts_with("blob")) return FieldType::Bytes;
    return FieldType::Text;
}

class GeoPackage final : public FeatureSource {
public:
    GeoPackage(fs::path path, Database database)
        : m_path(std::move(path)), m_database(std::move(database)) {}

    Result<void> load(const Progress& progress) {
        const Listens here(m_database, progress);
        const auto rows = m_database.prepare(
            "SELECT g.table_name, g.column_name, g.geometry_type_name, g.srs_id, g.z, g.m "
            "FROM gpkg_geometry_columns g ORDER BY g.table_name");
        if (!rows && rows.error().why.find("no such table") == std::string::npos)
            return rows.error();
        if (!rows)
            return badFormat(m_path, "an SQLite file, but no GeoPackage with features",
                             "choose a .gpkg file that holds vector layers");
        while (rows->step()) {
            LayerInfo info;
            info.name = rows->text(0);
            const std::string type = lowered(rows->text(2));
            info.isMulti = type.starts_with("multi");
            if (type.ends_with("point")) info.geometry = GeometryType::Point;
            if (type.ends_with("linestring")) info.geometry = GeometryType::Line;
            if (type.ends_with("polygon")) info.geometry = GeometryType::Polygon;
            info.hasZ = rows->whole(4) == 1;  // 2: may have any; the features tell
            info.hasM = rows->whole(5) == 1;
            info.crs = spatialReference(m_database, rows->whole(3), info.notes);
            LayerColumns columns{rows->text(1), ""};
            if (const auto done = loadColumns(info, columns); !done) return done;
            m_layers.push_back(std::move(info));
            m_columns.push_back(std::move(columns));
        }
        if (m_layers.empty())
            return badFormat(m_path, "it holds no vector layer", "choose another file");
        return {};
    }

    std::string format() const override { return "GeoPackage"; }
    const std::vector<LayerInfo>& layers() const override { return m_layers; }
    bool hasUniqueKeys(std::size_t layer) const override { return m_columns[layer].isKeyUnique; }

    std::unique_ptr<const TablePieces> pieces(std::size_t layer, std::size_t rows,
                                              const Progress& progress) const override {
        if (!m_columns[layer].isKeyUnique) return {};
        return piecesOf(m_path, m_layers[layer], m_columns[layer], rows, progress);
    }

    Result<void> scan(std::size_t layer, const Query& query,
                      const std::function<bool(const Feature&)>& visit,
                      const Progress& progress) const override {
        const LayerInfo& info = m_layers[layer];
        const auto fields = fieldsOf(info, query);
        if (!fields) return fields.error();
        const std::lock_guard lock(m_mutex);
        const Listens here(m_database, progress);
        std::string sql = featureRows(info, m_columns[layer], *fields);
        const std::vector<FieldType> types = typesOf(info, *fields);
        const auto index = query.extent.isEmpty()
                               ? std::nullopt
                               : spatialIndexOf(m_database, info.name, m_columns[layer].geometry);
        const std::string condition = sqlCondition(query.keep, info);
        if (!condition.empty()) sql += " WHERE " + condition;
        if (index)
            sql += (condition.empty() ? " WHERE " : " AND ") + sqlName(m_columns[layer].key) +
                   " IN (SELECT id FROM " + sqlName(*index) +
                   " WHERE maxx >= ?1 AND minx <= ?2 AND maxy >= ?3 AND "
                   "miny <= ?4) ORDER BY " +
                   sqlName(m_columns[layer].key);
        const auto rows = m_database.prepare(sql);
        if (!rows) return rows.error();
        if (index) {
            rows->bind(1, query.extent.xMin);
            rows->bind(2, query.extent.xMax);
            rows->bind(3, query.extent.yMin);
            rows->bind(4, query.extent.yMax);
        }
        std::int64_t done = 0, given = 0;
        Feature feature;
        ReadingLimit limit(m_path);
        while (rows->step()) {
            if (progress.stopped()) return cancelled(nameOf(m_path));
            if (++done % 1024 == 0 && info.count > 0)
                progress.at(static_cast<double>(done) / static_cast<double>(info.count));
            readRow(*rows, types, feature);
            if (!query.extent.isEmpty() && !feature.geometry.box().intersects(query.extent))
                continue;
            if (query.filter && !query.filter(feature)) continue;
            if (const auto fine = limit.take(bytesOf(feature), info.name); !fine) return fine;
            if (!visit(feature)) return {};
            if (query.limit > 0 && ++given >= query.limit) return {};
        }
        const int code = sqlite3_errcode(sqlite3_db_handle(rows->handle()));
        if (code != SQLITE_DONE && code != SQLITE_OK) return m_database.failure();
        return {};
    }

private:
    Result<void> loadColumns(LayerInfo& info, LayerColumns& columns) const {
        const auto rows = m_database.prepare("PRAGMA table_info(" + sqlName(info.name) + ")");
        if (!rows) return rows.error();
        bool exists = false, isOfSeveral = false;
        while (rows->step()) {
            exists = true;
            if (rows->whole(5) > 1) isOfSeveral = true;
            if (rows->whole(5) == 1)
                columns.key = rows->text(1),
                columns.isKeyUnique = lowered(rows->text(2)) == "integer";
            else if (rows->text(1) != columns.geometry)
                info.fields.push_back({rows->text(1), fieldTypeOf(rows->text(2))});
        }
        if (!exists)
            return badFormat(m_path, "layer \"" + info.name + "\" is announced but not there");
        if (columns.key.empty()) columns.key = "rowid";
        if (isOfSeveral) columns.isKeyUnique = false;
        info.count = rowsOf(info, columns);
        if (m_database.isStopped()) return cancelled(nameOf(m_path));
        const auto box = m_database.prepare("SELECT min_x,min_y,max_x,max_y FROM gpkg_contents "
                                            "WHERE table_name=?1 AND min_x NOT NULL");
        if (box) {
            box->bind(1, info.name);
            if (box->step())
                info.extent = {box->number(0), box->number(1), box->number(2), box->number(3)};
        }
        return {};
    }

    // Where there are as many boxes in the index as places between the first key and the last, so
    // many rows there are; counting them takes going through the whole table.
    std::int64_t rowsOf(const LayerInfo& info, const LayerColumns& columns) const {
        const std::string table = sqlName(info.name), key = sqlName(columns.key);
        const auto index = columns.isKeyUnique
                               ? spatialIndexOf(m_database, info.name, columns.geometry)
                               : std::nullopt;
        if (index) {
            const auto known = m_database.prepare(
                "SELECT (SELECT count(*) FROM " + sqlName(*index + "_rowid") + "), (SELECT max(" +
                key + ") FROM " + table + ") - (SELECT min(" + key + ") FROM " + table + ") + 1");
            if (known && known->step() && known->whole(0) > 0 && known->whole(0) == known->whole(1))
                return known->whole(0);
        }
        const auto counted = m_database.prepare("SELECT count(*) FROM " + table);
        return counted && counted->step() ? counted->whole(0) : 0;
    }

    fs::path m_path;
    Database m_database;
    std::vector<LayerInfo> m_layers;
    std::vector<LayerColumns> m_columns;
    mutable std::mutex m_mutex;  // one scan at a time on the connection
};
}  // namespace

Result<FeatureSourcePtr> openGeoPackage(const fs::path& path, const Progress& progress) {
    auto database = Database::open(path, SQLITE_OPEN_READONLY);
    if (!database) return database.error();
    auto source = std::make_shared<GeoPackage>(path, *std::move(database));
    if (const auto done = source->load(progress); !done) return done.error();
    return FeatureSourcePtr(std::move(source));
}

}  // namespace ledge::io
