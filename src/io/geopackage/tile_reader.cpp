#include "io/geopackage/tile_reader.h"

#include <algorithm>
#include <mutex>

#include "core/raster/block_cache.h"
#include "core/raster/typed_raster.h"
#include "io/files/atomic_file.h"
#include "io/geopackage/spatial_reference.h"
#include "io/picture/picture_codec.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::int64_t kMostTiles = std::int64_t{1} << 24, kLargestTile = 8192;

struct Matrix {
    std::int64_t zoom = 0, across = 0, down = 0, tileWidth = 0, tileHeight = 0;
    double cellX = 0, cellY = 0;
    bool isUsable() const {
        return zoom >= 0 && across > 0 && down > 0 && across <= kMostTiles && down <= kMostTiles &&
               tileWidth > 0 && tileHeight > 0 && tileWidth <= kLargestTile &&
               tileHeight <= kLargestTile && cellX > 0 && cellY > 0;
    }
};

// The connection, one question at a time; shared by all zoom levels.
struct Connection {
    fs::path path;
    Database database;
    std::string table;
    std::mutex mutex;  // guards the connection and the damage
    std::vector<std::string> damage;
    std::uint64_t owner = BlockCache::shared().newOwner();
    Connection(fs::path file, Database opened, std::string name)
        : path(std::move(file)), database(std::move(opened)), table(std::move(name)) {}
    ~Connection() { BlockCache::shared().forget(owner); }
};

class TileLevel final : public TypedRaster<TileLevel> {
public:
    TileLevel(std::shared_ptr<Connection> connection, RasterInfo info, Matrix matrix)
        : m_connection(std::move(connection)), m_info(std::move(info)), m_matrix(matrix) {}
    void setOverviews(std::vector<RasterPtr> overviews) { m_overviews = std::move(overviews); }

    const RasterInfo& info() const override { return m_info; }
    std::vector<RasterPtr> overviews() const override { return m_overviews; }
    std::vector<std::string> damage() const override {
        const std::lock_guard lock(m_connection->mutex);
        return m_connection->damage;
    }

private:
    friend class TypedRaster<TileLevel>;
    template <typename T>
    Result<void> readAs(int band, CellWindow w, BlockView<T> out) const {
        const Matrix& m = m_matrix;
        if (band < 0 || band > 3 || w.col < 0 || w.row < 0 || w.col + w.cols > m_info.width ||
            w.row + w.rows > m_info.height)
            return Error{ErrorCode::InvalidArgument, nameOf(m_connection->path),
                         "window outside the raster", ""};
        if (w.isEmpty()) return {};
        const auto width = static_cast<std::size_t>(m.tileWidth);
        for (std::int64_t tr = w.row / m.tileHeight; tr <= (w.row + w.rows - 1) / m.tileHeight;
             ++tr)
            for (std::int64_t tc = w.col / m.tileWidth; tc <= (w.col + w.cols - 1) / m.tileWidth;
                 ++tc) {
                const auto cells = tile(tr, tc);
                const std::int64_t row0 = std::max(w.row, tr * m.tileHeight);
                const std::int64_t row1 = std::min(w.row + w.rows, (tr + 1) * m.tileHeight);
                const std::int64_t col0 = std::max(w.col, tc * m.tileWidth);
                const std::int64_t col1 = std::min(w.col + w.cols, (tc + 1) * m.tileWidth);
                for (std::int64_t r = row0; r < row1; ++r)
                    for (std::int64_t c = col0; c < col1; ++c) {
                        T& cell = out(static_cast<std::size_t>(r - w.row),
                                      static_cast<std::size_t>(c - w.col));
                        if (cells->empty()) {
                            cell = std::numeric_limits<T>::quiet_NaN();
                            continue;
                        }
                        const std::size_t at =
                            4 * (static_cast<std::size_t>(r - tr * m.tileHeight) * width +
                                 static_cast<std::size_t>(c - tc * m.tileWidth));
                        cell = static_cast<T>(
                            std::to_integer<int>((*cells)[at + static_cast<std::size_t>(band)]));
                    }
            }
        return {};
    }

    // Four bytes a cell; empty when the tile is missing.
    BlockCache::Block tile(std::int64_t row, std::int64_t col) const {
        const std::int64_t index = ((m_matrix.zoom << 48) | (row << 24)) + col;
        return BlockCache::shared().get(m_connection->owner, index,
                                        [&] { return decoded(row, col); });
    }

    BlockCache::Block decoded(std::int64_t row, std::int64_t col) const {
        auto out = std::make_shared<BlockCache::Bytes>();
        std::vector<std::byte> file;
        {
            const std::lock_guard lock(m_connection->mutex);
            const auto found = m_connection->database.prepare(
                "SELECT tile_data FROM " + sqlName(m_connection->table) +
                " WHERE zoom_level=?1 AND tile_column=?2 AND tile_row=?3");
            if (!found) return out;
            found->bind(1, m_matrix.zoom);
            found->bind(2, col);
            found->bind(3, row);
            if (!found->step()) return out;
            const auto* blob =
                static_cast<const std::byte*>(sqlite3_column_blob(found->handle(), 0));
            if (blob) file.assign(blob, blob + sqlite3_column_bytes(found->handle(), 0));
        }
        const auto picture = decodePicture(file, m_connection->path);
        const bool fits = picture &&
                          picture->width == static_cast<std::size_t>(m_matrix.tileWidth) &&
                          picture->height == static_cast<std::size_t>(m_matrix.tileHeight) &&
                          picture->bytesPerValue == 1;
        if (!fits) {
            const std::lock_guard lock(m_connection->mutex);
            m_connection->damage.push_back(
                nameOf(m_connection->path) + ": tile " + std::to_string(col) + ", " +
                std::to_string(row) + " of zoom level " + std::to_string(m_matrix.zoom) +
                " cannot be read and counts as nodata: " +
                (picture ? "its size is not what the matrix says" : picture.error().why));
            return out;
        }
        out->resize(picture->width * picture->height * 4);
        for (std::size_t i = 0; i < picture->width * picture->height; ++i) {
            const auto value = [&](std::size_t b) {
                return picture->values[i * picture->bands + b];
            };
            std::byte* const to = out->data() + 4 * i;
            if (!picture->palette.empty()) {
                const auto place = std::to_integer<std::size_t>(value(0));
                const Colour c =
                    place < picture->palette.size() ? picture->palette[place] : Colour{0, 0, 0, 0};
                to[0] = std::byte{c.r}, to[1] = std::byte{c.g}, to[2] = std::byte{c.b};
                to[3] = std::byte{c.a};
                continue;
            }
            const bool isGrey = picture->bands < 3;
            for (std::size_t b = 0; b < 3; ++b) to[b] = value(isGrey ? 0 : b);
            to[3] = picture->bands % 2 == 0 ? value(picture->bands - 1) : std::byte{255};
        }
        return out;
    }

    std::shared_ptr<Connection> m_connection;
    RasterInfo m_info;
    Matrix m_matrix;
    std::vector<RasterPtr> m_overviews;
};

}  // namespace

bool holdsOnlyTiles(const fs::path& path) {
    const auto database = Database::open(path, SQLITE_OPEN_READONLY);
    if (!database) return false;
    const auto rows = database->prepare(
        "SELECT sum(data_type='tiles'), sum(data_type='features') FROM gpkg_contents");
    return rows && rows->step() && rows->whole(0) > 0 && rows->whole(1) == 0;
}

Result<RasterPtr> openTiles(const fs::path& path) {
    auto database = Database::open(path, SQLITE_OPEN_READONLY);
    if (!database) return database.error();
    const auto contents = database->prepare(
        "SELECT table_name FROM gpkg_contents WHERE data_type='tiles' ORDER BY table_name");
    if (!contents) return contents.error();
    if (!contents->step()) return badFormat(path, "it holds no tiles");
    const std::string table = contents->text(0);
    RasterInfo info;
    info.format = "GeoPackage tiles";
    if (contents->step())
        info.notes.push_back("the file holds several tile sets; \"" + table + "\" is read");
    const auto set = database->prepare(
        "SELECT srs_id,min_x,min_y,max_x,max_y FROM gpkg_tile_matrix_set WHERE table_name=?1");
    if (!set) return set.error();
    set->bind(1, table);
    if (!set->step()) return badFormat(path, "the extent of \"" + table + "\" is missing");
    info.crs = spatialReference(*database, set->whole(0), info.notes);
    const double left = set->number(1), top = set->number(4);
    std::vector<Matrix> matrices;
    const auto rows = database->prepare(
        "SELECT zoom_level,matrix_width,matrix_height,tile_width,tile_height,pixel_x_size,"
        "pixel_y_size FROM gpkg_tile_matrix WHERE table_name=?1 ORDER BY pixel_x_size");
    if (!rows) return rows.error();
    rows->bind(1, table);
    while (rows->step()) {
        const Matrix m{rows->whole(0), rows->whole(1),  rows->whole(2), rows->whole(3),
                       rows->whole(4), rows->number(5), rows->number(6)};
        if (m.isUsable()) matrices.push_back(m);
    }
    if (matrices.empty() || !std::isfinite(left) || !std::isfinite(top))
        return badFormat(path, "the tile matrices of \"" + table + "\" are not usable");
    info.bands.assign(4, {CellType::UInt8, {}, ""});
    for (std::size_t i = 0; i < 4; ++i)
        info.bands[i].role = static_cast<BandRole>(static_cast<int>(BandRole::Red) + int(i));
    auto connection = std::make_shared<Connection>(path, *std::move(database), table);
    std::vector<std::shared_ptr<TileLevel>> levels;
    for (const Matrix& m : matrices) {
        RasterInfo level = info;
        level.width = m.across * m.tileWidth, level.height = m.down * m.tileHeight;
        level.toWorld = {m.cellX, 0, left, 0, -m.cellY, top};
        if (levels.empty()) level.overviews = static_cast<int>(matrices.size()) - 1;
        levels.push_back(std::make_shared<TileLevel>(connection, std::move(level), m));
    }
    levels.front()->setOverviews({levels.begin() + 1, levels.end()});
    return RasterPtr(levels.front());
}

}  // namespace ledge::io
