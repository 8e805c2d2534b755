#pragma once
#include <memory>

#include "core/feature/feature_index.h"
#include "core/raster/pyramid.h"
#include "document/document.h"

namespace ledge::carto {

/// Features of a source in the map's CRS, ready to draw; values and order as in the source.
struct MapFeatures {
    TablePtr table;
    FeatureIndex index;
    explicit MapFeatures(TablePtr features) : table(std::move(features)), index(*table) {}
};

/// What painting reads; the session implements it with its cache of opened sources.
/// Safe to call from several threads.
class DrawingData {
public:
    virtual ~DrawingData() = default;
    /// `band` from 0.
    virtual Result<std::shared_ptr<const Pyramid>> raster(const doc::SourceRef& source,
                                                          int band = 0) const = 0;
    virtual Result<std::shared_ptr<const MapFeatures>>
    features(const doc::SourceRef& source, const crs::CrsPtr& mapCrs) const = 0;
};

/// Metres in one height unit of a source.
inline double metresPerHeight(const doc::SourceRef& source) {
    return doc::metresPer(source.heightUnit);
}

}  // namespace ledge::carto
