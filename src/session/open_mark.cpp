#include "session/open_mark.h"

#include <fcntl.h>
#include <unistd.h>

#include <QDateTime>
#include <QSysInfo>

#include "io/files/atomic_file.h"
#include "io/files/leftovers.h"

namespace ledge::session {
namespace fs = std::filesystem;

void OpenMark::take() {
    m_other.clear();
    if (m_lock < 0) return;
    std::error_code ignored;
    fs::remove(m_file, ignored);
    ::close(m_lock);
    m_lock = -1;
}

void OpenMark::put(const fs::path& project) {
    take();
    if (project.empty()) return;
    m_file = project.parent_path() / ("." + project.filename().string() + ".ledge-open");
    std::error_code code;
    if (fs::exists(m_file, code)) {
        m_lock = io::lockedFile(m_file, O_RDWR);
        if (m_lock < 0) {
            const auto said = io::readText(m_file, 4096);
            m_other = said && !said->empty() ? *said : "another window";
            return;
        }
    } else {
        m_lock = io::lockedFile(m_file, O_RDWR | O_CREAT);
    }
    if (m_lock < 0) return;  // a folder that cannot be written
    const std::string said = QString("process %1 on %2 since %3")
                                 .arg(::getpid())
                                 .arg(QSysInfo::machineHostName())
                                 .arg(QDateTime::currentDateTime().toString("yyyy-MM-dd HH:mm"))
                                 .toStdString();
    // Nobody is harmed when the words are missing: the lock is what counts.
    if (::ftruncate(m_lock, 0) != 0 || ::write(m_lock, said.data(), said.size()) < 0) return;
}

}  // namespace ledge::session
