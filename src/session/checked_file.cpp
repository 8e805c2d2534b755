#include "session/checked_file.h"

#include <cerrno>

#include "io/files/atomic_file.h"

namespace ledge::session {

CheckedFile::CheckedFile(const std::filesystem::path& path)
    : QFile(QString::fromStdString(path.string())) {}

Result<void> CheckedFile::finish(const std::filesystem::path& named) {
    errno = 0;
    if (!isOpen() || !flush()) note();
    close();
    if (!m_hasFailed) return {};
    errno = m_reason;
    return io::writeFailure(named, {});
}

qint64 CheckedFile::writeData(const char* data, qint64 size) {
    const qint64 done = QFile::writeData(data, size);
    if (done != size) note();
    return done;
}

void CheckedFile::note() {
    if (!m_hasFailed) m_reason = errno;
    m_hasFailed = true;
}

}  // namespace ledge::session
