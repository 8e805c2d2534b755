#pragma once
#include "core/feature/feature.h"

namespace ledge::io {

/// Feature layers held whole in memory, for formats that cannot be read in parts.
class MemoryFeatures final : public FeatureSource {
public:
    MemoryFeatures(std::string format, std::vector<FeatureTable> tables);
    std::string format() const override { return m_format; }
    const std::vector<LayerInfo>& layers() const override { return m_layers; }
    Result<void> scan(std::size_t layer, const Box& extent,
                      const std::function<bool(Feature&&)>& visit,
                      const Progress& progress) const override;

private:
    std::string m_format;
    std::vector<FeatureTable> m_tables;
    std::vector<LayerInfo> m_layers;
};

}  // namespace ledge::io
