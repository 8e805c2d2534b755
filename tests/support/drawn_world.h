#pragma once
#include <array>
#include <atomic>

#include "core/raster/raster_source.h"
#include "document/document.h"
#include "document/drawing_data.h"

namespace ledge::test {

/// A small country for painters: hills on a grid, areas, a winding line and places, around
/// 500000, 6800000 in UTM zone 29.
class DrawnWorld final : public doc::DrawingData {
public:
    DrawnWorld();

    Result<std::shared_ptr<const Pyramid>> raster(const doc::SourceRef&, int) const override {
        ++reads;
        return m_pyramid;
    }
    Result<std::shared_ptr<const doc::MapFeatures>>
    features(const doc::SourceRef& source, const crs::CrsPtr&, double) const override {
        ++reads;
        const auto type = source.name == "line"    ? GeometryType::Line
                          : source.name == "point" ? GeometryType::Point
                                                   : GeometryType::Polygon;
        return m_features[static_cast<std::size_t>(type)];
    }
    std::uint64_t version(const doc::SourceRef&) const override { return data; }

    mutable std::atomic<int> reads{0};
    std::uint64_t data = 0;

    /// A project with one layer of a kind: "tint", "light", "areas" …
    static doc::Document documentOf(const std::string& kind);

private:
    std::shared_ptr<const Pyramid> m_pyramid;
    std::array<std::shared_ptr<const doc::MapFeatures>, 4> m_features;
};

}  // namespace ledge::test
