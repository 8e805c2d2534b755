#pragma once
#include <QObject>
#include <QTimer>
#include <map>

#include "document/document.h"
#include "session/job_runner.h"

namespace ledge::session {

/// Why derived sources no longer are what would be derived now. Files are looked at beside the
/// interface: what was seen last is known at once, and looked at again every two seconds.
class StaleBook : public QObject {
    Q_OBJECT

public:
    explicit StaleBook(QObject* parent = nullptr);

    /// What is known; empty until it was looked at (ready() tells when it is otherwise).
    const std::vector<std::string>& reasons(const doc::DocumentPtr& document,
                                            const doc::SourceRef& source);

    /// Another project: what was known is of other sources.
    void forget() { m_known.clear(); }

Q_SIGNALS:
    void ready(ledge::doc::Id source);

private:
    struct Known {
        doc::DocumentPtr document;  ///< that it was looked at for
        doc::SourceRef source;
        bool isLooking = false;
        std::vector<std::string> reasons;
    };
    void look(doc::Id id);

    std::map<doc::Id, Known> m_known;
    QTimer m_again;
    JobRunner m_lookers;
};

}  // namespace ledge::session
