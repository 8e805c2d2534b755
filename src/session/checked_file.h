#pragma once
#include <QFile>
#include <filesystem>

#include "core/base/result.h"

namespace ledge::session {

/// A file for writers that never say when something did not go into it, such as that of PDF: it
/// remembers.
class CheckedFile final : public QFile {
public:
    explicit CheckedFile(const std::filesystem::path& path);
    bool begin() { return open(QIODevice::WriteOnly); }
    /// Closes it. Errors: IoFailure when anything is missing, under the name that it is to have.
    Result<void> finish(const std::filesystem::path& named);

protected:
    qint64 writeData(const char* data, qint64 size) override;

private:
    void note();

    bool m_hasFailed = false;
    int m_reason = 0;  ///< the system's, of the first failure
};

}  // namespace ledge::session
