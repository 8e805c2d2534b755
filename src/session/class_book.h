#pragma once
#include <QObject>
#include <optional>

#include "session/class_table.h"
#include "session/job_runner.h"
#include "session/source_cache.h"

namespace ledge::session {

/// What ground the classes of a raster cover. Every cell is read for it, beside the interface; what
/// a source and band came to is kept until the source changes (its CRS counts).
class ClassBook : public QObject {
    Q_OBJECT

public:
    ClassBook(std::shared_ptr<SourceCache> sources, QObject* parent = nullptr);

    /// What is known; empty without a CRS, and while it is being counted (ready() tells when).
    const ClassAreas& areas(const doc::SourceRef& source, int band);
    bool isCounting() const { return m_isCounting; }

Q_SIGNALS:
    void ready(ledge::doc::Id source);

private:
    struct Known {
        doc::SourceRef source;
        int band = 0;
        ClassAreas areas;
    };
    std::shared_ptr<SourceCache> m_sources;
    std::vector<Known> m_known;  ///< the latest last
    bool m_isCounting = false;
    JobRunner m_counters;
};

/// Blocks. Errors: those of reading; LimitExceeded when it holds no classes.
Result<ClassAreas> readClassAreas(const SourceCache& sources, const doc::SourceRef& source,
                                  int band, const Progress& progress);

}  // namespace ledge::session
