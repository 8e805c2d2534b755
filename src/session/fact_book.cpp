#include "session/fact_book.h"

#include "core/base/numbers.h"
#include "core/crs/transformation.h"
#include "core/globe/across.h"
#include "session/new_layers.h"
#include "session/overview_store.h"

namespace ledge::session {
namespace {
std::string countWords(const LayerInfo& info) {
    const std::string n = formatNumber(static_cast<double>(info.count));
    const bool isOne = info.count == 1;
    switch (info.geometry) {
    case GeometryType::Point: return n + (isOne ? " point" : " points");
    case GeometryType::Line: return n + (isOne ? " line" : " lines");
    case GeometryType::Polygon: return n + (isOne ? " area" : " areas");
    case GeometryType::None: break;
    }
    return n + (isOne ? " row" : " rows");
}
}  // namespace

SourceFacts readFacts(const SourceCache& sources, const doc::SourceRef& source) {
    SourceFacts out;
    if (const auto problem = sources.problem(source)) {
        out.problem = problem->text();
        return out;
    }
    out.notes = sources.notes(source);
    if (const auto raster = sources.raster(source)) {
        const RasterInfo& info = (*raster)->source().info();
        out.kind =
            formatNumber(double(info.width)) + " × " + formatNumber(double(info.height)) + " cells";
        out.definition = info.crs;
        out.extent = info.extent();
        out.bands = info.bands;
        out.wantsOverviews = !source.isLive() && OverviewStore::wants((*raster)->source());
        out.format = info.format + ", " + std::to_string(info.bands.size()) +
                     (info.bands.size() == 1 ? " band of " : " bands of ") +
                     cellTypeName(info.bands.front().type);
    } else if (const auto table = sources.table(source)) {
        const LayerInfo& info = (*table)->info;
        out.kind = countWords(info);
        out.definition = info.crs;
        out.extent = info.extent;
        if (const auto across = globe::acrossAntimeridian(**table))
            out.across = globe::longitudeWords(*across);
        out.fields = info.fields;
        out.reading = info.reading;
    }
    out.concern = crsConcern(out.definition, out.extent);
    if (!out.definition) return out;
    if (!out.definition->remark.text.empty()) out.notes.push_back(out.definition->remark.text);
    out.crs = out.definition->shortName();
    const auto way =
        crs::Transformation::between(out.definition, crs::crsFromCode(4326).value_or(nullptr));
    if (way) out.lonLat = way->forward(out.extent);
    return out;
}

FactBook::FactBook(std::shared_ptr<SourceCache> sources, QObject* parent)
    : QObject(parent), m_sources(std::move(sources)) {}

const SourceFacts* FactBook::facts(const doc::SourceRef& source) {
    const auto it = m_known.find(source.id);
    if (it != m_known.end() && it->second.source == source)
        return it->second.isReading ? nullptr : &it->second.facts;
    m_known[source.id] = {source, true, {}};
    auto read = std::make_shared<SourceFacts>();
    m_readers.start(
        QString::fromStdString(source.name),
        [read, source, sources = m_sources](const Progress&) -> Result<void> {
            *read = readFacts(*sources, source);
            return {};
        },
        [this, read, source](const Result<void>&) {
            const auto known = m_known.find(source.id);
            if (known == m_known.end() || !(known->second.source == source)) return;
            known->second.facts = std::move(*read);
            known->second.isReading = false;
            Q_EMIT ready(source.id);
        });
    return nullptr;
}

}  // namespace ledge::session
