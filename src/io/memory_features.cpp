#include "io/memory_features.h"

namespace ledge::io {

MemoryFeatures::MemoryFeatures(std::string format, std::vector<FeatureTable> tables)
    : m_format(std::move(format)) {
    for (FeatureTable& table : tables) {
        m_layers.push_back(table.info);
        m_tables.push_back(std::make_shared<const FeatureTable>(std::move(table)));
    }
}

Result<void> MemoryFeatures::scan(std::size_t layer, const Query& query,
                                  const std::function<bool(const Feature&)>& visit,
                                  const Progress& progress) const {
    const FeatureTable& table = *m_tables[layer];
    const auto fields = fieldsOf(table.info, query);
    if (!fields) return fields.error();
    std::int64_t given = 0;
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (progress.stopped()) return cancelled(table.info.name);
        if (i % 1024 == 0) progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        if (!query.extent.isEmpty() && !table.box(i).intersects(query.extent)) continue;
        Feature feature{table.key(i), table.geometry(i).toGeometry(), {}};
        for (const std::size_t field : *fields) feature.values.push_back(table.value(i, field));
        if (query.filter && !query.filter(feature)) continue;
        if (!visit(feature)) return {};
        if (query.limit > 0 && ++given >= query.limit) return {};
    }
    return {};
}

}  // namespace ledge::io
