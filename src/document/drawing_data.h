#pragma once
#include <memory>

#include "core/feature/feature_index.h"
#include "core/raster/pyramid.h"
#include "document/document.h"

namespace ledge::doc {

/// Features of a source in the map's CRS, ready to draw; values and order as in the source.
struct MapFeatures {
    TablePtr table;
    FeatureIndex index;
    explicit MapFeatures(TablePtr features) : table(std::move(features)), index(*table) {}
};

/// What painting and scenes read; the session implements it with its cache of opened sources.
/// Safe to call from several threads, none of them the interface's: it may open files.
class DrawingData {
public:
    virtual ~DrawingData() = default;
    /// `band` from 0.
    virtual Result<std::shared_ptr<const Pyramid>> raster(const SourceRef& source,
                                                          int band = 0) const = 0;
    virtual Result<std::shared_ptr<const MapFeatures>>
    features(const SourceRef& source, const crs::CrsPtr& mapCrs) const = 0;
    /// Another number whenever what is read is another: pictures of an older one are out of date.
    virtual std::uint64_t version(const SourceRef& source) const = 0;
};

/// Metres in one height unit of a source.
inline double metresPerHeight(const SourceRef& source) { return metresPer(source.heightUnit); }

}  // namespace ledge::doc
