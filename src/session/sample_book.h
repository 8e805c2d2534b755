#pragma once
#include <QObject>
#include <map>

#include "core/classify/breaks.h"
#include "session/job_runner.h"
#include "session/source_cache.h"

namespace ledge::session {

/// The numbers that styles go by, sorted: every feature is read for them, beside the interface. The
/// latest few are kept until their source changes.
class SampleBook : public QObject {
    Q_OBJECT

public:
    explicit SampleBook(std::shared_ptr<SourceCache> sources, QObject* parent = nullptr);

    /// What is known; null while it is being read (ready() tells when), or when it cannot be: see
    /// problem().
    std::shared_ptr<const classify::Sample>
    sample(const doc::SourceRef& source, const std::string& field, const std::string& per);
    /// How often each value of a field or formula occurs, by its exact text: of the first
    /// thousands. Empty while it is being read (ready() tells when).
    const std::map<std::string, std::int64_t>& counts(const doc::SourceRef& source,
                                                      const std::string& field);
    /// Why the one asked for last cannot be had; empty when it can.
    const std::string& problem() const { return m_problem; }

Q_SIGNALS:
    void ready(ledge::doc::Id source);

private:
    struct Known {
        doc::SourceRef source;
        std::string field, per;
        bool isReading = true;
        std::shared_ptr<const classify::Sample> sample;
        std::string problem;
    };
    struct KnownCounts {
        doc::SourceRef source;
        std::string field;
        std::map<std::string, std::int64_t> counts;
    };
    std::vector<KnownCounts> m_counts;  ///< the latest last
    Known* find(const doc::SourceRef& source, const std::string& field, const std::string& per);

    std::shared_ptr<SourceCache> m_sources;
    std::vector<Known> m_known;  ///< the latest last
    std::string m_problem;
    JobRunner m_readers;
};

}  // namespace ledge::session
