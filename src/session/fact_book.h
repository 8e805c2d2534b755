#pragma once
#include <QObject>
#include <map>

#include "session/crs_checks.h"
#include "session/job_runner.h"
#include "session/source_cache.h"

namespace ledge::session {

/// What a strip says of its source; read off the interface's thread.
struct SourceFacts {
    std::string kind;  ///< "146 lines", "2400 × 2000 cells"
    std::string crs;   ///< short name, empty when undeclared
    crs::CrsPtr definition;
    std::string format;
    Box extent;          ///< in its own CRS
    std::string across;  ///< "170° E to 160° W" of features over the antimeridian; else empty
    std::vector<Field> fields;
    Reading reading;              ///< how its text is read, where that can be chosen
    std::vector<BandInfo> bands;  ///< of a raster
    bool wantsOverviews = false;  ///< a large raster without reduced copies
    std::vector<std::string> notes;
    std::string problem;                ///< why it cannot be read
    std::optional<CrsConcern> concern;  ///< what is doubtful about its CRS
    Box lonLat;                         ///< the extent in longitude and latitude; empty unknown
};

/// Facts of sources, gathered one source at a time by a job thread.
class FactBook : public QObject {
    Q_OBJECT

public:
    FactBook(std::shared_ptr<SourceCache> sources, QObject* parent = nullptr);

    /// What is known; null while it is being read (ready() tells when).
    const SourceFacts* facts(const doc::SourceRef& source);

Q_SIGNALS:
    void ready(ledge::doc::Id source);

private:
    struct Known {
        doc::SourceRef source;
        bool isReading = true;
        SourceFacts facts;
    };
    std::shared_ptr<SourceCache> m_sources;
    std::map<doc::Id, Known> m_known;
    JobRunner m_readers;
};

/// Reads the facts; blocks.
SourceFacts readFacts(const SourceCache& sources, const doc::SourceRef& source);

}  // namespace ledge::session
