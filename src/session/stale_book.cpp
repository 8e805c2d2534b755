#include "session/stale_book.h"

#include "session/derive/lineage.h"

namespace ledge::session {
namespace {
constexpr int kAgainMs = 2000;
const std::vector<std::string> kNone;
}  // namespace

StaleBook::StaleBook(QObject* parent) : QObject(parent) {
    m_again.setInterval(kAgainMs);
    connect(&m_again, &QTimer::timeout, this, [this] {
        for (const auto& [id, known] : m_known) look(id);
    });
}

const std::vector<std::string>& StaleBook::reasons(const doc::DocumentPtr& document,
                                                   const doc::SourceRef& source) {
    if (!source.lineage) {
        m_known.erase(source.id);
        return kNone;
    }
    Known& known = m_known[source.id];
    // Another declared CRS or unit of an input is a reason too, so all sources count.
    const bool isSame = known.document && (known.document == document ||
                                           known.document->sources == document->sources);
    known.document = document;
    known.source = source;
    if (!isSame) look(source.id);
    if (!m_again.isActive()) m_again.start();
    return known.reasons;
}

void StaleBook::look(doc::Id id) {
    Known& known = m_known[id];
    if (known.isLooking) return;
    known.isLooking = true;
    auto found = std::make_shared<std::vector<std::string>>();
    m_lookers.start(
        QString::fromStdString(known.source.name),
        [found, document = known.document, source = known.source](const Progress&) -> Result<void> {
            *found = staleReasons(*document, source);
            return {};
        },
        [this, found, id, document = known.document](const Result<void>&) {
            const auto it = m_known.find(id);
            if (it == m_known.end()) return;
            it->second.isLooking = false;
            // Something was changed while it was looked at.
            if (!(it->second.document->sources == document->sources)) return look(id);
            if (it->second.reasons == *found) return;
            it->second.reasons = std::move(*found);
            Q_EMIT ready(id);
        });
}

}  // namespace ledge::session
