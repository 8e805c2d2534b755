#pragma once
#include "session/source_cache.h"

namespace ledge::session {

/// A source with the layers that show it, each with a fitting first style; not yet in a document.
struct NewLayers {
    doc::SourceRef source;
    std::vector<doc::Layer> layers;  ///< top first; `source` is filled in when added
};

/// Opens a file and makes a layer for it: one for each layer of a vector file.
/// `hue` counts layers made before, for successive colours.
Result<std::vector<NewLayers>> newLayersFor(const std::filesystem::path& path, SourceCache& cache,
                                            std::size_t hue, const Progress& progress);
/// Adds them on top. The map takes the CRS of the first layer in an empty project.
std::pair<doc::Document, std::vector<doc::Id>>
withNewLayers(doc::Document document, std::vector<NewLayers> added, const SourceCache& cache);

/// A first style by geometry and by what a name tells: water blue, wood green, road warm, path in
/// short dashes, boundary dash-dot violet; else a hue of the series.
doc::VectorLayer defaultVectorLayer(const FeatureTable& table, const std::string& name,
                                    std::size_t hue);
/// Whether a raster looks like heights: one band, and floats or 16-bit integers.
bool looksLikeHeights(const RasterInfo& info);

/// Low and high of a raster's data on a reduced copy, for first limits of ramps.
std::pair<double, double> roughRange(const Pyramid& pyramid);

/// Height tint, light and steepness of a DEM as a group, at tuned opacities; above everything.
std::pair<doc::Document, doc::Id> withRelief(doc::Document document, doc::Id source,
                                             const SourceCache& cache);
/// Contours of a DEM at the interval that suits a scale.
std::pair<doc::Document, doc::Id> withContours(doc::Document document, doc::Id source,
                                               const SourceCache& cache, double scale);
/// Name of a hillshade after its light: "Light 315/45".
std::string lightName(const terrain::Light& light);

/// Text of a CRS for the document: its code, else its WKT; empty when undeclared.
std::string crsText(const crs::CrsPtr& crs);

}  // namespace ledge::session
