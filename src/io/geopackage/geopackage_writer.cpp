#include <future>

#include "core/crs/wkt.h"
#include "io/files/atomic_file.h"
#include "io/files/byte_reader.h"
#include "io/geopackage/database.h"
#include "io/geopackage/geopackage.h"
#include "io/geopackage/spatial_index.h"
#include "io/geopackage/wkb.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;

constexpr const char* kTables = R"sql(
PRAGMA application_id = 0x47504B47;
PRAGMA user_version = 10300;
CREATE TABLE IF NOT EXISTS gpkg_spatial_ref_sys (srs_name TEXT NOT NULL, srs_id INTEGER PRIMARY KEY,
  organization TEXT NOT NULL, organization_coordsys_id INTEGER NOT NULL, definition TEXT NOT NULL,
  description TEXT);
CREATE TABLE IF NOT EXISTS gpkg_contents (table_name TEXT NOT NULL PRIMARY KEY, data_type TEXT NOT NULL,
  identifier TEXT UNIQUE, description TEXT DEFAULT '',
  last_change DATETIME NOT NULL DEFAULT (strftime('%Y-%m-%dT%H:%M:%fZ','now')),
  min_x DOUBLE, min_y DOUBLE, max_x DOUBLE, max_y DOUBLE, srs_id INTEGER,
  FOREIGN KEY (srs_id) REFERENCES gpkg_spatial_ref_sys(srs_id));
CREATE TABLE IF NOT EXISTS gpkg_geometry_columns (table_name TEXT NOT NULL, column_name TEXT NOT NULL,
  geometry_type_name TEXT NOT NULL, srs_id INTEGER NOT NULL, z TINYINT NOT NULL, m TINYINT NOT NULL,
  PRIMARY KEY (table_name, column_name), UNIQUE (table_name),
  FOREIGN KEY (table_name) REFERENCES gpkg_contents(table_name),
  FOREIGN KEY (srs_id) REFERENCES gpkg_spatial_ref_sys(srs_id));
INSERT OR IGNORE INTO gpkg_spatial_ref_sys VALUES
  ('Undefined Cartesian', -1, 'NONE', -1, 'undefined', NULL),
  ('Undefined geographic', 0, 'NONE', 0, 'undefined', NULL);
)sql";

std::string sqlType(FieldType type) {
    switch (type) {
    case FieldType::Integer: return "INTEGER";
    case FieldType::Real: return "REAL";
    case FieldType::Boolean: return "BOOLEAN";
    case FieldType::Date: return "DATE";
    case FieldType::TimeStamp: return "DATETIME";
    case FieldType::Bytes: return "BLOB";
    case FieldType::Text: break;
    }
    return "TEXT";
}

// Into bytes used before.
void putBlob(std::string& out, const GeometryView& g, std::int64_t srs) {
    out.assign("GP");
    out += '\0';
    out += g.isEmpty() ? '\x11' : '\x03';
    putNumber(out, static_cast<std::int32_t>(srs), std::endian::little);
    if (!g.isEmpty()) {
        const Box box = g.box();
        for (const double v : {box.xMin, box.xMax, box.yMin, box.yMax})
            putNumber(out, v, std::endian::little);
    }
    putWkb(out, g);
}

// The id under which the CRS stands in the file, adding it when it is not there.
Result<std::int64_t> registerCrs(const Database& db, const crs::CrsPtr& crs) {
    if (!crs) return std::int64_t{-1};
    std::int64_t id = crs->code;
    if (id == 0) {
        const auto next =
            db.prepare("SELECT max(100000, max(srs_id)) + 1 FROM gpkg_spatial_ref_sys");
        id = next && next->step() ? next->whole(0) : 100001;
    }
    const auto put =
        db.prepare("INSERT OR REPLACE INTO gpkg_spatial_ref_sys VALUES (?1,?2,?3,?2,?4,NULL)");
    if (!put) return put.error();
    put->bind(1, crs->name);
    put->bind(2, id);
    put->bind(3, std::string(crs->code != 0 ? "EPSG" : "NONE"));
    put->bind(4, crs::toWkt(*crs));
    if (!put->execute()) return db.failure();
    return id;
}

Result<void> createLayer(const Database& db, const LayerInfo& info) {
    // The column of the layer that was there may be called otherwise.
    std::string former;
    if (const auto columns =
            db.prepare("SELECT column_name FROM gpkg_geometry_columns WHERE table_name = ?1")) {
        columns->bind(1, info.name);
        if (columns->step()) former = columns->text(0);
    }
    if (!former.empty())
        if (const auto done = dropSpatialIndex(db, info.name, former); !done) return done;
    std::string create = "DROP TABLE IF EXISTS " + sqlName(info.name) + "; CREATE TABLE " +
                         sqlName(info.name) +
                         " (fid INTEGER PRIMARY KEY AUTOINCREMENT NOT NULL, geom BLOB";
    for (const Field& field : info.fields)
        create += "," + sqlName(field.name) + " " + sqlType(field.type);
    return db.run(create + ")");
}

// What the file says of a layer, once all of it is known.
Result<void> announceLayer(const Database& db, const LayerInfo& info, std::int64_t srs) {
    std::string type = info.geometry == GeometryType::None
                           ? "GEOMETRY"
                           : geometryTypeName(info.geometry, info.isMulti);
    for (char& c : type) c = static_cast<char>(std::toupper(static_cast<unsigned char>(c)));
    const auto contents =
        db.prepare("INSERT OR REPLACE INTO gpkg_contents "
                   "(table_name,data_type,identifier,min_x,min_y,max_x,max_y,srs_id) "
                   "VALUES (?1,'features',?1,?2,?3,?4,?5,?6)");
    const auto columns =
        db.prepare("INSERT OR REPLACE INTO gpkg_geometry_columns VALUES (?1,'geom',?2,?3,?4,?5)");
    if (!contents || !columns) return db.failure();
    contents->bind(1, info.name);
    if (const Box& b = info.extent; !b.isEmpty()) {
        contents->bind(2, b.xMin), contents->bind(3, b.yMin);
        contents->bind(4, b.xMax), contents->bind(5, b.yMax);
    }
    contents->bind(6, srs);
    columns->bind(1, info.name);
    columns->bind(2, type);
    columns->bind(3, srs);
    // 0: none has, 2: some may.
    columns->bind(4, std::int64_t{info.hasZ ? 2 : 0});
    columns->bind(5, std::int64_t{info.hasM ? 2 : 0});
    if (!contents->execute() || !columns->execute()) return db.failure();
    return {};
}

void bindValue(const Statement& row, int index, const Value& value) {
    if (isMissing(value)) return row.bindNull(index);
    if (const auto* text = std::get_if<std::string>(&value)) return row.bindKept(index, *text);
    if (const auto* whole = std::get_if<std::int64_t>(&value)) return row.bind(index, *whole);
    if (const auto* flag = std::get_if<bool>(&value))
        return row.bind(index, static_cast<std::int64_t>(*flag));
    if (const auto* bytes = std::get_if<Bytes>(&value)) return row.bindBlob(index, bytes->data);
    const FieldType type = typeOf(value);
    if (type == FieldType::Date || type == FieldType::TimeStamp)
        return row.bind(index, exactText(value));
    row.bind(index, numberOf(value));
}

// Tables put together from several may name two features alike; SQLite then counts them itself.
bool areUnique(const FeatureTable& table) {
    std::vector<FeatureKey> keys;
    keys.reserve(table.size());
    for (std::size_t i = 0; i < table.size(); ++i) keys.push_back(table.key(i));
    std::sort(keys.begin(), keys.end());
    return std::adjacent_find(keys.begin(), keys.end()) == keys.end();
}

// Some rows as they are bound: made ready on another core while those before are inserted.
struct Batch {
    std::size_t begin = 0, end = 0;
    std::vector<std::string> shapes;
    std::vector<Value> values;  ///< row by row
};
Batch batchOf(const FeatureTable& table, std::size_t begin, std::int64_t srs) {
    constexpr std::size_t kRows = 4096;
    Batch out{begin, std::min(begin + kRows, table.size()), {}, {}};
    const std::size_t fields = table.info.fields.size();
    out.shapes.resize(out.end - begin);
    out.values.reserve((out.end - begin) * fields);
    for (std::size_t i = begin; i < out.end; ++i) {
        putBlob(out.shapes[i - begin], table.geometry(i), srs);
        for (std::size_t k = 0; k < fields; ++k) out.values.push_back(table.value(i, k));
    }
    return out;
}

Result<void> insertFeatures(const Database& db, const std::string& layer, const FeatureTable& table,
                            std::int64_t srs, bool keepKeys, const Progress& progress) {
    const std::size_t fields = table.info.fields.size();
    std::vector<std::string> columns{"geom", "fid"};
    for (const Field& field : table.info.fields) columns.push_back(field.name);
    Batch next = batchOf(table, 0, srs);
    while (next.begin < next.end) {
        if (progress.stopped()) return cancelled(layer);
        const Batch batch = std::move(next);
        auto coming = std::async(std::launch::async,
                                 [&, from = batch.end] { return batchOf(table, from, srs); });
        const auto done = insertRows(db, layer, columns, batch.end - batch.begin,
                                     [&](const Statement& row, std::size_t at, int first) {
                                         row.bindBlob(first, batch.shapes[at]);
                                         if (keepKeys)
                                             row.bind(first + 1, table.key(batch.begin + at));
                                         else
                                             row.bindNull(first + 1);
                                         for (std::size_t k = 0; k < fields; ++k)
                                             bindValue(row, first + 2 + static_cast<int>(k),
                                                       batch.values[at * fields + k]);
                                     });
        if (!done) return done;
        progress.at(static_cast<double>(batch.end) / static_cast<double>(table.size()));
        next = coming.get();
    }
    return {};
}

// What is said of a table that comes in parts.
void add(LayerInfo& whole, const LayerInfo& part) {
    whole.extent.add(part.extent);
    if (whole.geometry == GeometryType::None) whole.geometry = part.geometry;
    whole.isMulti = whole.isMulti || part.isMulti;
    whole.hasZ = whole.hasZ || part.hasZ;
    whole.hasM = whole.hasM || part.hasM;
}

// A layer's table, all of it or part by part.
struct Rows {
    const LayerInfo& info;
    const NextPart& next;
    bool keepKeys = true;
};

Result<void> writeLayer(const Database& db, const Rows& rows, const Progress& progress) {
    if (const auto done = db.run(kTables); !done) return done;
    const auto wgs84 = crs::crsFromCode(4326);
    if (const auto id = registerCrs(db, *wgs84); !id) return id.error();
    const auto srs = registerCrs(db, rows.info.crs);
    if (!srs) return srs.error();
    if (const auto done = createLayer(db, rows.info); !done) return done;
    const auto index = SpatialIndex::begin(db, rows.info.name, "geom");
    if (!index) return index.error();
    LayerInfo whole = rows.info;
    whole.extent = {};
    std::vector<Indexed> boxes;
    std::int64_t count = 0;
    while (true) {
        const auto part = rows.next();
        if (!part) return part.error();
        if (!*part) break;
        const FeatureTable& table = **part;
        if (const auto done =
                insertFeatures(db, rows.info.name, table, *srs, rows.keepKeys, progress);
            !done)
            return done;
        for (std::size_t i = 0; i < table.size(); ++i) {
            ++count;
            boxes.push_back({rows.keepKeys ? table.key(i) : count, table.box(i)});
        }
        add(whole, table.info);
    }
    if (const auto done = announceLayer(db, whole, *srs); !done) return done;
    return index->write(PackedIndex(std::move(boxes), index->nodeBytes()), "fid");
}

Result<void> writeInto(const fs::path& path, bool isNew, const Rows& rows,
                       const Progress& progress) {
    auto db = Database::open(path, SQLITE_OPEN_READWRITE | (isNew ? SQLITE_OPEN_CREATE : 0));
    if (!db) return db.error();
    db->listenTo(progress);
    // A new file is not seen by anybody before it is complete: nothing to roll back to.
    if (isNew)
        if (const auto done = db->run("PRAGMA journal_mode=OFF; PRAGMA synchronous=OFF"); !done)
            return done;
    if (const auto done = db->run("BEGIN IMMEDIATE"); !done) return done;
    auto done = writeLayer(*db, rows, progress);
    if (done) done = db->run("COMMIT");
    if (!done) (void)db->run("ROLLBACK");  // closing would do it as well
    return done;
}

// All of a table as its one part, each time it is asked for anew.
NextPart wholly(const FeatureTable& table) {
    return [&table, isGiven = false]() mutable -> Result<std::optional<FeatureTable>> {
        if (std::exchange(isGiven, true)) return std::optional<FeatureTable>();
        return std::optional<FeatureTable>(table);
    };
}
}  // namespace

// Whoever finds a file writes into it; two that find none both make one, and the later puts its
// layer into the earlier one's.
Result<void> writeGeoPackage(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    const bool keepKeys = areUnique(table);
    const auto write = [&](const fs::path& to, bool isNew) {
        return writeInto(to, isNew, {table.info, wholly(table), keepKeys}, progress);
    };
    std::error_code code;
    if (fs::exists(path, code)) return write(path, false);
    if (const auto done = write(set.main(), true); !done) return done;
    const auto isPlaced = set.commitNew();
    if (!isPlaced) return isPlaced.error();
    return *isPlaced ? Result<void>() : write(path, false);
}

Result<void> writeGeoPackageParts(const LayerInfo& info, const NextPart& next, FileSet& set,
                                  const Progress& progress) {
    std::error_code code;
    if (fs::exists(set.target(), code))
        return writeInto(set.target(), false, {info, next}, progress);
    if (const auto done = writeInto(set.main(), true, {info, next}, progress); !done) return done;
    const auto isPlaced = set.commitNew();
    if (!isPlaced) return isPlaced.error();
    if (*isPlaced) return {};
    return ioFailure(set.target(), "was made by another program meanwhile", "try again");
}

}  // namespace ledge::io
