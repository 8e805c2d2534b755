#pragma once
#include <cstdint>
#include <limits>
#include <map>
#include <memory>
#include <span>
#include <vector>

#include "core/feature/coarse_shapes.h"
#include "core/feature/feature_index.h"
#include "core/raster/pyramid.h"
#include "document/document.h"

namespace ledge::doc {

/// Features of a source in the map's CRS, ready to draw; values and order as in the source.
struct MapFeatures {
    TablePtr table;
    FeatureIndex index;
    /// How far sides stray from their true course, at most; units of the map.
    double strayed = 0;
    /// Sides that are no outlines, by row: where the map is torn, or the data were.
    std::map<std::size_t, std::vector<std::uint8_t>> seams;
    std::vector<CoarseShapes> coarser;  ///< the finest first
    explicit MapFeatures(TablePtr features) : table(std::move(features)), index(*table) {}
    MapFeatures(TablePtr features, FeatureIndex itsIndex)
        : table(std::move(features)), index(std::move(itsIndex)) {}

    /// The shape of a row with as many corners as can be told apart where a pixel is as wide as
    /// this. What is torn keeps all of them: its seams are counted by them.
    GeometryView shapeOf(std::size_t row, double unitsPerPx) const {
        constexpr double kUnseen = 0.125;  // pixels
        const FeatureTable* from = table.get();
        for (const CoarseShapes& one : coarser)
            if (one.within <= unitsPerPx * kUnseen && !seams.contains(row)) from = one.table.get();
        return from->geometry(row);
    }
    /// Of one row, for each point; empty when all its sides are outlines.
    std::span<const std::uint8_t> seamsOf(std::size_t row) const {
        const auto it = seams.find(row);
        return it == seams.end() ? std::span<const std::uint8_t>() : it->second;
    }
};

/// What painting and scenes read; the session implements it with its cache of opened sources.
/// Safe to call from several threads, none of them the interface's: it may open files.
class DrawingData {
public:
    virtual ~DrawingData() = default;
    /// `band` from 0.
    virtual Result<std::shared_ptr<const Pyramid>> raster(const SourceRef& source,
                                                          int band = 0) const = 0;
    /// Cut where the map is torn or ends, sides within `tolerance` (units of the map) of their true
    /// course; where that does not matter, any there are.
    virtual Result<std::shared_ptr<const MapFeatures>>
    features(const SourceRef& source, const crs::CrsPtr& mapCrs, double tolerance) const = 0;
    Result<std::shared_ptr<const MapFeatures>> features(const SourceRef& source,
                                                        const crs::CrsPtr& mapCrs) const {
        return features(source, mapCrs, std::numeric_limits<double>::infinity());
    }
    /// Another number whenever what is read is another: pictures of an older one are out of date.
    virtual std::uint64_t version(const SourceRef& source) const = 0;
};

/// Metres in one height unit of a source.
inline double metresPerHeight(const SourceRef& source) { return metresPer(source.heightUnit); }

}  // namespace ledge::doc
