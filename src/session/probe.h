#pragma once
#include "carto/map_frame.h"
#include "session/source_cache.h"

namespace ledge::session {

/// What one layer says at a spot.
struct ProbeHit {
    doc::Id layer = 0;
    std::string layerName, title;
    doc::Id source = 0;
    std::optional<FeatureKey> feature = {};  ///< none for rasters
    double number = kNaN;                    ///< a raster's value, of the band that its strip shows
    std::vector<std::pair<std::string, std::string>> values;
    /// What it measures on the ellipsoid of the map, in the project's unit: length, area,
    /// perimeter.
    std::vector<std::pair<std::string, std::string>> measures = {};
    Geometry outline;                      ///< in the map's CRS; empty for rasters
    std::vector<std::uint8_t> seams = {};  ///< sides of it that are no outlines, as they are drawn
};

/// Everything at a position of the map: points, lines, areas, then rasters, each top layer first;
/// features within `tolerance` map units,
/// and the full-resolution values of rasters. Lamps that are off count as off. `only`: of this
/// layer alone, lit or not; 0: of all.
std::vector<ProbeHit> probe(const doc::Document& document, const SourceCache& cache,
                            const crs::CrsPtr& mapCrs, Point at, double tolerance,
                            doc::Id only = 0);

/// Value of every lit raster source under a position, each source once: name, value and unit.
std::vector<std::pair<std::string, std::string>> rasterValues(const doc::Document& document,
                                                              const SourceCache& cache,
                                                              const crs::CrsPtr& mapCrs, Point at);

/// A position of the map in the form that a project shows: eastings and northings with the unit and
/// degrees, or degrees alone.
std::string positionText(const crs::CrsPtr& mapCrs, Point at, const doc::Display& display);

}  // namespace ledge::session
