#include "session/class_book.h"

#include <algorithm>

#include "core/raster/counts.h"

namespace ledge::session {
namespace {
constexpr std::size_t kMostClasses = 4096, kMostKept = 16;
const ClassAreas kNone;
}  // namespace

Result<ClassAreas> readClassAreas(const SourceCache& sources, const doc::SourceRef& source,
                                  int band, const Progress& progress) {
    const auto raster = sources.raster(source);
    if (!raster) return raster.error();
    const RasterSource& cells = (*raster)->source();
    if (!cells.info().crs) return ClassAreas{};
    const auto sums = valueSums(cells, band, kMostClasses, progress);
    if (!sums) return sums.error();
    ClassAreas out;
    for (const auto& [value, sum] : *sums) out[value] = sum.squareMetres;
    return out;
}

ClassBook::ClassBook(std::shared_ptr<SourceCache> sources, QObject* parent)
    : QObject(parent), m_sources(std::move(sources)) {}

const ClassAreas& ClassBook::areas(const doc::SourceRef& source, int band) {
    const auto it = std::find_if(m_known.begin(), m_known.end(), [&](const Known& known) {
        return known.band == band && known.source == source;
    });
    if (it != m_known.end()) return it->areas;
    if (m_known.size() >= kMostKept) m_known.erase(m_known.begin());
    m_known.push_back({source, band, {}});
    m_isCounting = true;
    auto read = std::make_shared<ClassAreas>();
    m_counters.start(
        tr("Areas of the classes of %1").arg(QString::fromStdString(source.name)),
        [read, source, band, sources = m_sources](const Progress& progress) -> Result<void> {
            auto areas = readClassAreas(*sources, source, band, progress);
            if (!areas) return areas.error();
            *read = *std::move(areas);
            return {};
        },
        [this, read, source, band](const Result<void>&) {
            m_isCounting = false;
            for (Known& known : m_known)
                if (known.band == band && known.source == source) known.areas = *read;
            Q_EMIT ready(source.id);
        });
    return kNone;
}

}  // namespace ledge::session
