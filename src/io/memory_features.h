#pragma once
#include "core/feature/feature.h"

namespace ledge::io {

/// Feature layers held whole in memory, for formats that cannot be read in parts.
class MemoryFeatures final : public FeatureSource {
public:
    MemoryFeatures(std::string format, std::vector<FeatureTable> tables);
    std::string format() const override { return m_format; }
    const std::vector<LayerInfo>& layers() const override { return m_layers; }
    Result<void> scan(std::size_t layer, const Query& query,
                      const std::function<bool(const Feature&)>& visit,
                      const Progress& progress) const override;
    TablePtr held(std::size_t layer) const override { return m_tables[layer]; }

private:
    std::string m_format;
    std::vector<TablePtr> m_tables;
    std::vector<LayerInfo> m_layers;
};

}  // namespace ledge::io
