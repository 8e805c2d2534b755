#pragma once
#include <sqlite3.h>

#include <chrono>
#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/progress.h"
#include "io/files/held_locks.h"

namespace ledge::io {

class Statement;

/// An SQLite connection that closes itself and tells its errors.
class Database {
public:
    static Result<Database> open(const std::filesystem::path& path, int flags);
    Result<void> run(const std::string& sql) const;
    Result<Statement> prepare(const std::string& sql) const;
    std::string message() const { return sqlite3_errmsg(m_handle.get()); }
    /// What went wrong just now: the file in use elsewhere, the disk full, the file damaged.
    Error failure() const;
    /// While others hold the file, waits up to kPatience and says so once; "stop" ends the wait,
    /// and whatever is being computed. Until it listens to something else.
    void listenTo(const Progress& progress) const;
    bool isStopped() const;
    /// The 100 bytes at the beginning of the file (SQLite file format, section 1.3), as they are
    /// there now; nothing where there are fewer.
    std::optional<std::string> header() const;

    static constexpr std::chrono::seconds kPatience{30};

private:
    struct Closer {
        void operator()(sqlite3* handle) const { sqlite3_close_v2(handle); }
    };
    std::optional<HeldLocks> m_locks;  ///< let go of once the connection is closed
    std::unique_ptr<sqlite3, Closer> m_handle;
    std::filesystem::path m_path;
    struct Listening;
    mutable std::shared_ptr<Listening> m_listening;
};

/// For as long as something is read, a database hears whether that is to stop.
class Listens {
public:
    Listens(const Database& database, const Progress& progress) : m_database(database) {
        m_database.listenTo(progress);
    }
    ~Listens() { m_database.listenTo({}); }
    Listens(const Listens&) = delete;
    Listens& operator=(const Listens&) = delete;

private:
    const Database& m_database;
};

/// A prepared statement; columns and parameters count from 0 and 1 as in SQLite.
class Statement {
public:
    explicit Statement(sqlite3_stmt* handle) : m_handle(handle) {}
    bool step() const { return sqlite3_step(m_handle.get()) == SQLITE_ROW; }
    /// Runs to the end and starts anew; false on an error.
    bool execute() const;
    sqlite3_stmt* handle() const { return m_handle.get(); }
    std::string text(int column) const;
    double number(int column) const { return sqlite3_column_double(m_handle.get(), column); }
    std::int64_t whole(int column) const { return sqlite3_column_int64(m_handle.get(), column); }
    void bind(int index, const std::string& text) const;
    /// What is not copied must live until the statement was executed.
    void bindKept(int index, const std::string& text) const;
    void bindBlob(int index, const std::string& bytes) const;
    void bind(int index, double value) const { sqlite3_bind_double(m_handle.get(), index, value); }
    void bind(int index, std::int64_t value) const {
        sqlite3_bind_int64(m_handle.get(), index, value);
    }
    void bindNull(int index) const { sqlite3_bind_null(m_handle.get(), index); }

private:
    struct Closer {
        void operator()(sqlite3_stmt* handle) const { sqlite3_finalize(handle); }
    };
    std::unique_ptr<sqlite3_stmt, Closer> m_handle;
};

/// Inserts `count` rows, several with each statement: to begin one costs more than its row does.
/// `bind` sets the values of a row from the parameter `first` on; what it binds without a copy must
/// live until all are inserted.
Result<void>
insertRows(const Database& db, const std::string& table, const std::vector<std::string>& columns,
           std::size_t count,
           const std::function<void(const Statement&, std::size_t row, int first)>& bind);

/// A name for use in SQL, quoted.
std::string sqlName(const std::string& name);

}  // namespace ledge::io
