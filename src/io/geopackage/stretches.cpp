#include "io/geopackage/stretches.h"

#include <fcntl.h>
#include <sqlite3.h>

#include <algorithm>
#include <array>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <memory>
#include <new>
#include <optional>

#include "io/files/held_locks.h"

namespace ledge::io {
namespace {
constexpr sqlite3_int64 kStretch = 512 * 1024;
// A table's pages lie one after another in a file written at once, backwards where pages were used
// again, and between those of others where several were written together.
constexpr sqlite3_int64 kNear = 64 * 1024;
constexpr std::size_t kStretches = 4, kLookedBack = 16, kEnoughNear = 3;

struct Stretch {
    std::unique_ptr<char[]> bytes;
    sqlite3_int64 begin = 0, end = 0;  // of what is in them
    std::uint64_t used = 0;
    bool has(sqlite3_int64 at, int count) const { return at >= begin && at + count <= end; }
};

// SQLite gives the memory; its own file lies behind this.
struct File {
    sqlite3_file base{};
    std::array<Stretch, kStretches> stretches;
    std::uint64_t turn = 0;
    std::array<sqlite3_int64, kLookedBack> missed{};  // where the last pages of no stretch were
    std::size_t misses = 0;
    const char* name = nullptr;  // SQLite keeps it for as long as the file is open
    std::optional<int> hinted;   // for hints
};
constexpr std::size_t kOwn = (sizeof(File) + alignof(std::max_align_t) - 1) /
                             alignof(std::max_align_t) * alignof(std::max_align_t);

File& ours(sqlite3_file* file) { return *reinterpret_cast<File*>(file); }
sqlite3_file* real(sqlite3_file* file) {
    return reinterpret_cast<sqlite3_file*>(reinterpret_cast<char*>(file) + kOwn);
}
sqlite3_vfs* real(sqlite3_vfs* vfs) { return static_cast<sqlite3_vfs*>(vfs->pAppData); }

// What SQLite asks of a file, or of the files, is asked of its own.
template <auto call>
struct Passed;
template <typename R, typename... Given, R (*sqlite3_io_methods::*call)(sqlite3_file*, Given...)>
struct Passed<call> {
    static R on(sqlite3_file* file, Given... given) {
        return (real(file)->pMethods->*call)(real(file), given...);
    }
    static R forgetting(sqlite3_file* file, Given... given) {
        ours(file).stretches = {};
        return on(file, given...);
    }
};
template <typename R, typename... Given, R (*sqlite3_vfs::*call)(sqlite3_vfs*, Given...)>
struct Passed<call> {
    static R on(sqlite3_vfs* vfs, Given... given) {
        return (real(vfs)->*call)(real(vfs), given...);
    }
};

int readReal(sqlite3_file* file, void* to, sqlite3_int64 bytes, sqlite3_int64 at) {
    return real(file)->pMethods->xRead(real(file), to, static_cast<int>(bytes), at);
}

// Whether pages are being read around here.
bool isAmongOthers(File& own, sqlite3_int64 at) {
    const auto near =
        std::count_if(own.missed.begin(), own.missed.begin() + std::min(own.misses, kLookedBack),
                      [at](sqlite3_int64 before) { return std::abs(at - before) <= kNear; });
    own.missed[own.misses++ % kLookedBack] = at;
    return near >= static_cast<std::ptrdiff_t>(kEnoughNear);
}

// Tells the system what will be read next, so that the disk works meanwhile. It takes only so much
// at a time.
void expect(File& own, sqlite3_int64 begin) {
    constexpr sqlite3_int64 kAtOnce = 128 * 1024;
    if (begin < 0) return;
    if (!own.hinted) own.hinted = heldHandle(own.name).value_or(-1);
    if (*own.hinted < 0) return;
    for (sqlite3_int64 at = begin; at < begin + kStretch; at += kAtOnce)
        (void)::posix_fadvise(*own.hinted, at, kAtOnce, POSIX_FADV_WILLNEED);
}

// The stretch in which a page lies, read in place of the one not used for longest; null where it
// cannot be.
Stretch* readStretch(sqlite3_file* file, sqlite3_int64 at) {
    File& own = ours(file);
    const sqlite3_int64 begin = at / kStretch * kStretch;
    sqlite3_int64 size = 0;
    if (real(file)->pMethods->xFileSize(real(file), &size) != SQLITE_OK || size <= at) return {};
    const bool goesBack =
        std::any_of(own.stretches.begin(), own.stretches.end(),
                    [&](const Stretch& s) { return s.begin == begin + kStretch; });
    Stretch& stretch =
        *std::min_element(own.stretches.begin(), own.stretches.end(),
                          [](const Stretch& a, const Stretch& b) { return a.used < b.used; });
    stretch.end = stretch.begin;
    if (!stretch.bytes) stretch.bytes.reset(new (std::nothrow) char[kStretch]);
    const sqlite3_int64 bytes = std::min(kStretch, size - begin);
    if (!stretch.bytes || readReal(file, stretch.bytes.get(), bytes, begin) != SQLITE_OK) return {};
    stretch.begin = begin, stretch.end = begin + bytes;
    expect(own, begin + (goesBack ? -kStretch : kStretch));
    return &stretch;
}

int read(sqlite3_file* file, void* to, int bytes, sqlite3_int64 at) {
    File& own = ours(file);
    const auto kept = std::find_if(own.stretches.begin(), own.stretches.end(),
                                   [&](const Stretch& s) { return s.has(at, bytes); });
    Stretch* stretch = kept != own.stretches.end() ? kept : nullptr;
    if (!stretch && isAmongOthers(own, at)) stretch = readStretch(file, at);
    if (!stretch || !stretch->has(at, bytes)) return readReal(file, to, bytes, at);
    stretch->used = ++own.turn;
    std::memcpy(to, stretch->bytes.get() + (at - stretch->begin), static_cast<std::size_t>(bytes));
    return SQLITE_OK;
}

int close(sqlite3_file* file) {
    const int code = Passed<&sqlite3_io_methods::xClose>::on(file);
    ours(file).~File();
    return code;
}

using Io = sqlite3_io_methods;
constexpr int kVersion = 3;
const Io kMethods{kVersion,
                  close,
                  read,
                  Passed<&Io::xWrite>::forgetting,
                  Passed<&Io::xTruncate>::forgetting,
                  Passed<&Io::xSync>::on,
                  Passed<&Io::xFileSize>::on,
                  Passed<&Io::xLock>::forgetting,
                  Passed<&Io::xUnlock>::forgetting,
                  Passed<&Io::xCheckReservedLock>::on,
                  Passed<&Io::xFileControl>::on,
                  Passed<&Io::xSectorSize>::on,
                  Passed<&Io::xDeviceCharacteristics>::on,
                  Passed<&Io::xShmMap>::on,
                  Passed<&Io::xShmLock>::forgetting,
                  Passed<&Io::xShmBarrier>::on,
                  Passed<&Io::xShmUnmap>::forgetting,
                  Passed<&Io::xFetch>::on,
                  Passed<&Io::xUnfetch>::on};

int open(sqlite3_vfs* vfs, const char* name, sqlite3_file* file, int flags, int* got) {
    const auto openReal = [&](sqlite3_file* to) {
        return real(vfs)->xOpen(real(vfs), name, to, flags, got);
    };
    // Journals and scratch files are SQLite's own business.
    if ((flags & SQLITE_OPEN_MAIN_DB) == 0) return openReal(file);
    real(file)->pMethods = nullptr;
    const int code = openReal(real(file));
    if (!real(file)->pMethods) {
        file->pMethods = nullptr;
        return code;
    }
    if (code != SQLITE_OK || real(file)->pMethods->iVersion < kVersion) {
        (void)real(file)->pMethods->xClose(real(file));
        file->pMethods = nullptr;
        return code != SQLITE_OK ? code : openReal(file);
    }
    (new (file) File)->name = name;
    file->pMethods = &kMethods;
    return code;
}

struct Registered {
    sqlite3_vfs vfs{};
    bool isDone = false;

    Registered() {
        sqlite3_vfs* own = sqlite3_vfs_find(nullptr);
        if (!own || own->iVersion < 3) return;
        using V = sqlite3_vfs;
        vfs = {.iVersion = 3,
               .szOsFile = static_cast<int>(kOwn) + own->szOsFile,
               .mxPathname = own->mxPathname,
               .pNext = nullptr,
               .zName = "ledge-in-stretches",
               .pAppData = own,
               .xOpen = open,
               .xDelete = Passed<&V::xDelete>::on,
               .xAccess = Passed<&V::xAccess>::on,
               .xFullPathname = Passed<&V::xFullPathname>::on,
               .xDlOpen = Passed<&V::xDlOpen>::on,
               .xDlError = Passed<&V::xDlError>::on,
               .xDlSym = Passed<&V::xDlSym>::on,
               .xDlClose = Passed<&V::xDlClose>::on,
               .xRandomness = Passed<&V::xRandomness>::on,
               .xSleep = Passed<&V::xSleep>::on,
               .xCurrentTime = Passed<&V::xCurrentTime>::on,
               .xGetLastError = Passed<&V::xGetLastError>::on,
               .xCurrentTimeInt64 = Passed<&V::xCurrentTimeInt64>::on,
               .xSetSystemCall = Passed<&V::xSetSystemCall>::on,
               .xGetSystemCall = Passed<&V::xGetSystemCall>::on,
               .xNextSystemCall = Passed<&V::xNextSystemCall>::on};
        isDone = sqlite3_vfs_register(&vfs, 0) == SQLITE_OK;
    }
};
}  // namespace

const char* filesInStretches() {
    static Registered registered;
    return registered.isDone ? registered.vfs.zName : nullptr;
}

}  // namespace ledge::io
