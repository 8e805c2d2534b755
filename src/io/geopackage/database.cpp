#include "io/geopackage/database.h"

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <optional>
#include <utility>

#include "io/files/atomic_file.h"
#include "io/geopackage/stretches.h"

namespace ledge::io {
namespace {
constexpr int kHeaderBytes = 100;

std::uint32_t bigEndian(const unsigned char* bytes, int count) {
    std::uint32_t out = 0;
    for (int i = 0; i < count; ++i) out = out << 8 | bytes[i];
    return out;
}

// The file of a connection as SQLite has it: no other handle is opened, whose closing would let go
// of the locks on it.
sqlite3_file* fileOf(sqlite3* database) {
    sqlite3_file* file = nullptr;
    const int code = sqlite3_file_control(database, "main", SQLITE_FCNTL_FILE_POINTER, &file);
    return code == SQLITE_OK && file && file->pMethods ? file : nullptr;
}

// Whether there is less of the file than its header says (SQLite file format, section 1.3): a copy
// or download that did not come to its end. Bytes there and bytes missing.
std::optional<std::pair<std::uint64_t, std::uint64_t>> cutShort(sqlite3* database) {
    sqlite3_file* const file = fileOf(database);
    unsigned char header[kHeaderBytes];
    sqlite3_int64 there = 0;
    if (!file || file->pMethods->xRead(file, header, kHeaderBytes, 0) != SQLITE_OK ||
        file->pMethods->xFileSize(file, &there) != SQLITE_OK)
        return {};
    if (std::memcmp(header, "SQLite format 3", 16) != 0) return {};
    // The count of pages holds only when it was written with the last change.
    if (std::memcmp(header + 24, header + 92, 4) != 0) return {};
    const std::uint64_t side = bigEndian(header + 16, 2);
    const std::uint64_t whole = (side == 1 ? 65536 : side) * bigEndian(header + 28, 4);
    const auto size = static_cast<std::uint64_t>(there);
    if (size >= whole) return {};
    return std::pair{size, whole - size};
}
}  // namespace

Result<Database> Database::open(const std::filesystem::path& path, int flags) {
    // A writer that died has left its journal: only who may write can roll it back.
    std::error_code code;
    const bool isRead = (flags & SQLITE_OPEN_READONLY) != 0;
    if (isRead && std::filesystem::exists(path.string() + "-journal", code))
        if (const auto mending = open(path, SQLITE_OPEN_READWRITE))
            (void)mending->run("SELECT count(*) FROM sqlite_master").has_value();
    Database out;
    out.m_path = path;
    sqlite3* handle = nullptr;
    // A connection is used by one thread at a time; its users lock where there are several.
    const int opened = sqlite3_open_v2(path.c_str(), &handle, flags | SQLITE_OPEN_NOMUTEX,
                                       isRead ? filesInStretches() : nullptr);
    out.m_handle.reset(handle);
    out.m_locks.emplace(path);
    if (opened == SQLITE_CANTOPEN)
        return ioFailure(path, "cannot be opened",
                         "check that its folder exists and that both can be read and written");
    if (opened != SQLITE_OK) return ioFailure(path, handle ? sqlite3_errmsg(handle) : "no memory");
    if (const auto cut = cutShort(handle))
        return badFormat(path,
                         "is damaged: it is cut short, " + std::to_string(cut->second) + " of " +
                             std::to_string(cut->first + cut->second) + " bytes are missing",
                         "get a fresh copy");
    sqlite3_extended_result_codes(handle, 1);
    sqlite3_busy_timeout(handle, 2000);
    return out;
}

struct Database::Listening {
    Progress progress;
    std::string name;
};

void Database::listenTo(const Progress& progress) const {
    // Shares of the work are told by whoever does it, not from here.
    auto before = std::exchange(
        m_listening,
        std::make_shared<Listening>(Listening{{progress.stop, {}, progress.say}, nameOf(m_path)}));
    static constexpr int kStepMs = 50, kInstructions = 20000;
    sqlite3_busy_handler(
        m_handle.get(),
        [](void* given, int waits) {
            const auto& listening = *static_cast<const Listening*>(given);
            if (listening.progress.stopped() ||
                waits * std::chrono::milliseconds(kStepMs) >= kPatience)
                return 0;
            if (waits == 20)
                listening.progress.tell(listening.name + " is in use by another program; waiting");
            sqlite3_sleep(kStepMs);
            return 1;
        },
        m_listening.get());
    sqlite3_progress_handler(
        m_handle.get(), kInstructions,
        [](void* given) {
            return static_cast<const Listening*>(given)->progress.stopped() ? 1 : 0;
        },
        m_listening.get());
}

bool Database::isStopped() const { return m_listening && m_listening->progress.stopped(); }

std::optional<std::string> Database::header() const {
    sqlite3_file* const file = fileOf(m_handle.get());
    std::string out(kHeaderBytes, '\0');
    if (!file || file->pMethods->xRead(file, out.data(), kHeaderBytes, 0) != SQLITE_OK) return {};
    return out;
}

Error Database::failure() const {
    switch (sqlite3_errcode(m_handle.get()) & 0xff) {
    case SQLITE_INTERRUPT: return cancelled(nameOf(m_path));
    case SQLITE_BUSY:
    case SQLITE_LOCKED:
        return ioFailure(m_path, "is in use by another program",
                         "close it there, or try again later");
    case SQLITE_FULL: errno = ENOSPC; return writeFailure(m_path, {});
    case SQLITE_IOERR: errno = 0; return writeFailure(m_path, "SQLite says \"" + message() + "\"");
    case SQLITE_READONLY:
    case SQLITE_CANTOPEN:
    case SQLITE_PERM:
        return ioFailure(m_path, "cannot be written", "check the permissions of it and its folder");
    default: break;
    }
    return badFormat(m_path, "SQLite says \"" + message() + "\"",
                     "the file is damaged or no GeoPackage; get a fresh copy");
}

Result<void> Database::run(const std::string& sql) const {
    if (sqlite3_exec(m_handle.get(), sql.c_str(), nullptr, nullptr, nullptr) != SQLITE_OK)
        return failure();
    return {};
}

Result<Statement> Database::prepare(const std::string& sql) const {
    sqlite3_stmt* handle = nullptr;
    if (sqlite3_prepare_v2(m_handle.get(), sql.c_str(), -1, &handle, nullptr) != SQLITE_OK)
        return failure();
    return Statement(handle);
}

bool Statement::execute() const {
    const int code = sqlite3_step(m_handle.get());
    sqlite3_reset(m_handle.get());
    return code == SQLITE_DONE || code == SQLITE_ROW;
}

std::string Statement::text(int column) const {
    const auto* text = sqlite3_column_text(m_handle.get(), column);
    const int bytes = sqlite3_column_bytes(m_handle.get(), column);
    return text ? std::string(reinterpret_cast<const char*>(text), static_cast<std::size_t>(bytes))
                : "";
}

void Statement::bind(int index, const std::string& text) const {
    sqlite3_bind_text(m_handle.get(), index, text.data(), static_cast<int>(text.size()),
                      SQLITE_TRANSIENT);
}

void Statement::bindKept(int index, const std::string& text) const {
    sqlite3_bind_text(m_handle.get(), index, text.data(), static_cast<int>(text.size()),
                      SQLITE_STATIC);
}

void Statement::bindBlob(int index, const std::string& bytes) const {
    sqlite3_bind_blob(m_handle.get(), index, bytes.data(), static_cast<int>(bytes.size()),
                      SQLITE_STATIC);
}

Result<void>
insertRows(const Database& db, const std::string& table, const std::vector<std::string>& columns,
           std::size_t count,
           const std::function<void(const Statement&, std::size_t row, int first)>& bind) {
    // More gain nothing; every SQLite allows as many parameters.
    constexpr std::size_t kMostRows = 16, kMostParameters = 900;
    const std::size_t together = std::clamp<std::size_t>(
        kMostParameters / std::max<std::size_t>(columns.size(), 1), 1, kMostRows);
    std::string names;
    for (const std::string& column : columns) names += (names.empty() ? "" : ",") + sqlName(column);
    const auto insertOf = [&](std::size_t rows) {
        std::string sql = "INSERT INTO " + sqlName(table) + " (" + names + ") VALUES ";
        for (std::size_t r = 0; r < rows; ++r) {
            sql += r == 0 ? "(" : ",(";
            for (std::size_t k = 0; k < columns.size(); ++k) sql += k == 0 ? "?" : ",?";
            sql += ')';
        }
        return db.prepare(sql);
    };
    for (std::size_t row = 0; row < count;) {
        const std::size_t rows = count - row >= together ? together : 1;
        const auto statement = insertOf(rows);
        if (!statement) return statement.error();
        for (const std::size_t end = row + (count - row) / rows * rows; row < end;) {
            int first = 1;
            for (std::size_t k = 0; k < rows; ++k, ++row, first += static_cast<int>(columns.size()))
                bind(*statement, row, first);
            if (!statement->execute()) return db.failure();
        }
    }
    return {};
}

std::string sqlName(const std::string& name) {
    std::string out = "\"";
    for (const char c : name) {
        if (c == '"') out += '"';
        out += c;
    }
    return out + "\"";
}

}  // namespace ledge::io
