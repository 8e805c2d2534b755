#include "session/sample_book.h"

#include "session/field_classes.h"

namespace ledge::session {
namespace {
constexpr std::size_t kMostKept = 4;
}

SampleBook::SampleBook(std::shared_ptr<SourceCache> sources, QObject* parent)
    : QObject(parent), m_sources(std::move(sources)) {}

SampleBook::Known* SampleBook::find(const doc::SourceRef& source, const std::string& field,
                                    const std::string& per) {
    for (Known& known : m_known)
        if (known.source == source && known.field == field && known.per == per) return &known;
    return nullptr;
}

std::shared_ptr<const classify::Sample>
SampleBook::sample(const doc::SourceRef& source, const std::string& field, const std::string& per) {
    m_problem.clear();
    if (const Known* known = find(source, field, per)) {
        m_problem = known->problem;
        return known->sample;
    }
    m_known.push_back({source, field, per, true, nullptr, {}});
    if (m_known.size() > kMostKept) m_known.erase(m_known.begin());
    auto found = std::make_shared<Result<classify::Sample>>(cancelled(field));
    m_readers.start(
        tr("Numbers of %1").arg(QString::fromStdString(source.name)),
        [found, source, field, per, sources = m_sources](const Progress& progress) -> Result<void> {
            const auto table = sources->table(source, progress.part(0, 0.6));
            if (!table) return table.error();
            *found = numbersOf(**table, field, per, progress.part(0.6, 1));
            return {};
        },
        [this, found, source, field, per](const Result<void>& done) {
            Known* known = find(source, field, per);
            if (!known) return;
            known->isReading = false;
            if (done && *found)
                known->sample = std::make_shared<const classify::Sample>(*std::move(*found));
            else
                known->problem = done ? found->error().text() : done.error().text();
            Q_EMIT ready(source.id);
        });
    return nullptr;
}

}  // namespace ledge::session
