#include "io/geopackage/geopackage_pieces.h"

#include <algorithm>
#include <condition_variable>
#include <limits>
#include <mutex>
#include <numeric>

#include "core/base/parallel.h"
#include "io/files/atomic_file.h"
#include "io/files/reading_limit.h"

namespace ledge::io {
namespace {
constexpr std::uint64_t kFarApart = 4;  // places for keys to one row

// Connections that see the same state of a file: each holds it as a reader does, so that nobody can
// write between the first and the last. Empty where that cannot be.
std::vector<Database> connectionsTo(const std::filesystem::path& path, std::size_t count,
                                    const Progress& progress) {
    // Where the format of writing is told, and what changes with every change (SQLite file format,
    // section 1.3).
    constexpr std::size_t kWriteVersion = 18;
    constexpr char kJournal = 1;  // 2: a write-ahead log, beside which readers differ
    std::vector<Database> out;
    std::optional<std::string> first;
    for (std::size_t i = 0; i < count; ++i) {
        auto database = Database::open(path, SQLITE_OPEN_READONLY);
        if (!database) return {};
        database->listenTo(progress);
        if (!database->run("BEGIN; SELECT count(*) FROM sqlite_master")) return {};
        const auto header = database->header();
        if (!header || (*header)[kWriteVersion] != kJournal || (first && *first != *header))
            return {};
        first = header;
        out.push_back(*std::move(database));
    }
    return out;
}

class Pieces final : public TablePieces {
public:
    struct Keys {
        std::int64_t first, last;
        std::uint64_t step;
    };

    Pieces(const std::filesystem::path& path, const LayerInfo& layer, const LayerColumns& columns,
           Keys keys, std::vector<Database> free)
        : m_path(path), m_layer(layer), m_columns(columns), m_keys(keys), m_free(std::move(free)),
          m_limit(path) {}

    std::size_t count() const override {
        const auto span =
            static_cast<std::uint64_t>(m_keys.last) - static_cast<std::uint64_t>(m_keys.first);
        return static_cast<std::size_t>(span / m_keys.step + 1);
    }

    Result<void> scan(std::size_t piece, const std::function<bool(const Feature&)>& visit,
                      const Progress& progress) const override {
        const Borrowed database(*this);
        return scanned(database.connection, piece, visit, progress);
    }

private:
    // Given back whatever happens, since others may wait for it.
    struct Borrowed {
        explicit Borrowed(const Pieces& from) : pieces(from), connection(from.take()) {}
        ~Borrowed() { pieces.giveBack(std::move(connection)); }
        Borrowed(const Borrowed&) = delete;
        Borrowed& operator=(const Borrowed&) = delete;
        const Pieces& pieces;
        Database connection;
    };

    Result<void> scanned(const Database& database, std::size_t piece,
                         const std::function<bool(const Feature&)>& visit,
                         const Progress& progress) const {
        constexpr std::int64_t kTogether = 1024;  // rows between looks at the stop sign
        std::vector<std::size_t> fields(m_layer.fields.size());
        std::iota(fields.begin(), fields.end(), std::size_t{0});
        const std::vector<FieldType> types = typesOf(m_layer, fields);
        const auto rows =
            database.prepare(featureRows(m_layer, m_columns, fields) + " WHERE " +
                             sqlName(m_columns.key) + " BETWEEN ?1 AND ?2 ORDER BY 1");
        if (!rows) return rows.error();
        const auto begin = static_cast<std::int64_t>(static_cast<std::uint64_t>(m_keys.first) +
                                                     piece * m_keys.step);
        rows->bind(1, begin);
        rows->bind(2, piece + 1 == count() ? m_keys.last
                                           : begin + static_cast<std::int64_t>(m_keys.step - 1));
        Feature feature;
        std::uint64_t bytes = 0;
        for (std::int64_t done = 1; rows->step(); ++done) {
            readRow(*rows, types, feature);
            bytes += bytesOf(feature);
            if (done % kTogether == 0) {
                if (progress.stopped()) return cancelled(nameOf(m_path));
                if (const auto fine = admit(std::exchange(bytes, 0)); !fine) return fine;
            }
            if (!visit(feature)) return {};
        }
        const int code = sqlite3_errcode(sqlite3_db_handle(rows->handle()));
        if (code != SQLITE_DONE && code != SQLITE_OK) return database.failure();
        return admit(bytes);
    }

    Result<void> admit(std::uint64_t bytes) const {
        const std::lock_guard lock(m_mutex);
        return m_limit.take(bytes, m_layer.name);
    }
    Database take() const {
        std::unique_lock lock(m_mutex);
        m_isFree.wait(lock, [this] { return !m_free.empty(); });
        Database out = std::move(m_free.back());
        m_free.pop_back();
        return out;
    }
    void giveBack(Database database) const {
        {
            const std::lock_guard lock(m_mutex);
            m_free.push_back(std::move(database));
        }
        m_isFree.notify_one();
    }

    const std::filesystem::path& m_path;
    const LayerInfo& m_layer;
    const LayerColumns& m_columns;
    const Keys m_keys;
    mutable std::mutex m_mutex;
    mutable std::condition_variable m_isFree;
    mutable std::vector<Database> m_free;
    mutable ReadingLimit m_limit;
};
}  // namespace

std::unique_ptr<const TablePieces> piecesOf(const std::filesystem::path& path,
                                            const LayerInfo& layer, const LayerColumns& columns,
                                            std::size_t rows, const Progress& progress) {
    if (layer.count <= static_cast<std::int64_t>(rows)) return {};
    auto connections = connectionsTo(path, threadCount(), progress);
    if (connections.empty()) return {};
    const std::string key = sqlName(columns.key), table = sqlName(layer.name);
    // Each by itself, so that neither goes through the table.
    const auto ends =
        connections.front().prepare("SELECT (SELECT min(" + key + ") FROM " + table +
                                    "), (SELECT max(" + key + ") FROM " + table + ")");
    if (!ends || !ends->step()) return {};
    const std::int64_t first = ends->whole(0), last = ends->whole(1);
    const auto count = static_cast<std::uint64_t>(layer.count);
    const std::uint64_t span = static_cast<std::uint64_t>(last) - static_cast<std::uint64_t>(first);
    if (span / kFarApart >= count || span >= std::numeric_limits<std::uint64_t>::max() / rows)
        return {};
    const std::uint64_t step = std::max<std::uint64_t>(rows, (span + 1) * rows / count);
    if (span < step) return {};
    return std::make_unique<const Pieces>(path, layer, columns, Pieces::Keys{first, last, step},
                                          std::move(connections));
}

}  // namespace ledge::io
