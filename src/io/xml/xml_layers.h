#pragma once
#include <map>

#include "core/feature/feature_table.h"

namespace ledge::io {

/// Layers gathered from a file whose features name their fields one by one. Values are texts until
/// all are there; a column whose values all are numbers, days or instants becomes one of those.
class XmlLayers {
public:
    void add(const std::string& layer, Geometry geometry,
             const std::vector<std::pair<std::string, std::string>>& values);
    bool isEmpty() const { return m_layers.empty(); }
    /// In the order of their first features; WGS 84 longitude and latitude. Layers of several kinds
    /// of shapes become one for each kind.
    std::vector<FeatureTable> finish();

private:
    struct Layer {
        std::string name;
        std::vector<std::string> fields;
        std::map<std::string, std::size_t> places;
        std::vector<Geometry> shapes;
        std::vector<std::vector<std::string>> rows;
    };
    std::vector<Layer> m_layers;
};

}  // namespace ledge::io
