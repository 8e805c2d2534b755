#include "io/files/read_ahead.h"

#include <fcntl.h>
#include <unistd.h>

namespace ledge::io {

void expectWhole(const std::filesystem::path& path) {
    constexpr off_t kMost = off_t{1} << 30;  // more might push out what is in use
    const int handle = ::open(path.c_str(), O_RDONLY | O_CLOEXEC);
    if (handle < 0) return;
    (void)::posix_fadvise(handle, 0, kMost, POSIX_FADV_WILLNEED);
    ::close(handle);
}

}  // namespace ledge::io
