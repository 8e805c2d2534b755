#include "session/sample_book.h"

#include "session/field_classes.h"

namespace ledge::session {
namespace {
constexpr std::size_t kMostKept = 4, kMostCounted = 20'000;
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

const std::map<std::string, std::int64_t>& SampleBook::counts(const doc::SourceRef& source,
                                                              const std::string& field) {
    static const std::map<std::string, std::int64_t> kNone;
    const auto isIt = [&](const KnownCounts& known) {
        return known.source == source && known.field == field;
    };
    const auto known = std::find_if(m_counts.begin(), m_counts.end(), isIt);
    if (known != m_counts.end()) return known->counts;
    m_counts.push_back({source, field, {}});
    if (m_counts.size() > kMostKept) m_counts.erase(m_counts.begin());
    auto found = std::make_shared<std::vector<DistinctValue>>();
    m_readers.start(
        tr("Values of %1").arg(QString::fromStdString(source.name)),
        [found, source, field, sources = m_sources](const Progress& progress) -> Result<void> {
            const auto table = sources->table(source, progress.part(0, 0.6));
            if (!table) return table.error();
            auto values = distinctOf(**table, field, kMostCounted, progress.part(0.6, 1));
            if (!values) return values.error();
            *found = *std::move(values);
            return {};
        },
        [this, found, source, isIt = KnownCounts{source, field, {}}](const Result<void>&) {
            for (KnownCounts& one : m_counts)
                if (one.source == isIt.source && one.field == isIt.field)
                    for (const DistinctValue& value : *found) one.counts[value.text] = value.count;
            Q_EMIT ready(source.id);
        });
    return kNone;
}

}  // namespace ledge::session
