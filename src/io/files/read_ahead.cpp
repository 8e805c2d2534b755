#include "io/files/read_ahead.h"

#include <fcntl.h>
#include <sys/stat.h>
#include <unistd.h>

#include <algorithm>

namespace ledge::io {

ReadAhead::ReadAhead(const std::filesystem::path& path) {
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) return;
    m_thread = std::jthread([handle](const std::stop_token& stop) {
        // The system takes no more at a time; more in all might push out what is in use.
        constexpr off_t kAtOnce = 128 * 1024, kMost = off_t{1} << 30;
        struct stat found {};
        const off_t size = ::fstat(handle, &found) == 0 ? std::min(found.st_size, kMost) : 0;
        for (off_t at = 0; at < size && !stop.stop_requested(); at += kAtOnce)
            (void)::posix_fadvise(handle, at, kAtOnce, POSIX_FADV_WILLNEED);
        ::close(handle);
    });
}

}  // namespace ledge::io
