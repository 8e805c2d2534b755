#include "io/memory_features.h"

namespace ledge::io {

MemoryFeatures::MemoryFeatures(std::string format, std::vector<FeatureTable> tables)
    : m_format(std::move(format)), m_tables(std::move(tables)) {
    for (FeatureTable& table : m_tables) {
        for (Feature& f : table.features) f.values.resize(table.info.fields.size());
        table.refreshInfo();
        m_layers.push_back(table.info);
    }
}

Result<void> MemoryFeatures::scan(std::size_t layer, const Box& extent,
                                  const std::function<bool(Feature&&)>& visit,
                                  const Progress& progress) const {
    std::size_t done = 0;
    for (const Feature& feature : m_tables[layer].features) {
        if (progress.stopped()) return cancelled(m_layers[layer].name);
        if (extent.isEmpty() || feature.geometry.box().intersects(extent))
            if (!visit(Feature(feature))) return {};
        if (++done % 1024 == 0)
            progress.at(static_cast<double>(done) /
                        static_cast<double>(m_tables[layer].features.size()));
    }
    return {};
}

}  // namespace ledge::io
