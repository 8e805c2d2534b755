#pragma once
#include <array>

#include "session/source_cache.h"

namespace ledge::session {

/// A source with the layers that show it, each with a fitting first style; not yet in a document.
struct NewLayers {
    doc::SourceRef source;
    std::vector<doc::Layer> layers;  ///< top first; `source` is filled in when added
    std::string mapCrs = {};         ///< what an empty map takes for it; empty: none declared
    doc::Id insteadOf = 0;           ///< a live source whose strips go on with this file
    doc::Id above = 0;               ///< a live strip that this file shows: it takes its place
};

/// Opens a file and makes a layer for it: one for each layer of a vector file.
/// `hue` counts layers made before, for successive colours.
Result<std::vector<NewLayers>> newLayersFor(const std::filesystem::path& path, SourceCache& cache,
                                            std::size_t hue, const Progress& progress);
/// Says how a file that is being added was derived. Where a live strip shows the same, the file
/// takes its look and its place; else its look fits the operation.
void dressDerived(NewLayers& made, const doc::Lineage& lineage, const doc::Document& document,
                  const SourceCache& cache);
/// A live source with its layer: a raster computed as it is read, nothing stored.
/// Errors: those of derivedRaster().
Result<NewLayers> newLiveLayer(const doc::Lineage& lineage, const std::string& name,
                               SourceCache& cache, const Progress& progress);
/// Adds drawings on top and rasters below the drawings that are there, or in the place of what they
/// were derived by. The map takes the CRS of the first layer in an empty project.
std::pair<doc::Document, std::vector<doc::Id>> withNewLayers(doc::Document document,
                                                             std::vector<NewLayers> added);

/// The CRS of a map that begins with data in a CRS, as a code or text. A map in degrees misleads
/// the eye: geographic data get the UTM zone of their middle. `extent` in that CRS.
std::string mapCrsFor(const crs::CrsPtr& crs, const Box& extent);

/// A first style by geometry and by what a name tells: water blue, wood green, road warm, path in
/// short dashes, boundary dash-dot violet; else a hue of the series.
doc::VectorLayer defaultVectorLayer(const FeatureTable& table, const std::string& name,
                                    std::size_t hue);
/// Whether a raster looks like heights: one band, and floats or 16-bit integers.
bool looksLikeHeights(const RasterInfo& info);

/// Round limits that hold a range, for a first ramp.
std::pair<double, double> roundLimits(double low, double high);
/// Low and high of a raster's data on a reduced copy, for first limits of ramps.
std::pair<double, double> roughRange(const Pyramid& pyramid);

/// A source led to another file of the same kind, with the layers' styles in mind: a raster with as
/// many bands, or features of the same geometry (in the layer of the same name, else the first).
/// Errors: those of opening; InvalidArgument for another kind, told in words.
Result<doc::SourceRef> ledTo(const doc::SourceRef& source, const std::filesystem::path& path,
                             const SourceCache& cache, const Progress& progress);
/// Classes of a band: of its palette, or of up to 40 whole numbers with colours of the series, each
/// with its number of cells. None when it does not look like classes.
std::vector<doc::RasterClass> classesOf(const RasterSource& raster, int band = 0,
                                        const Progress& progress = {});
/// Limits of the bands of a picture for its stretch, from a reduced copy of the whole raster.
std::array<StretchLimits, 3> wholeLimits(const doc::ImageStyle& style, const doc::SourceRef& source,
                                         const SourceCache& cache);

/// Text of a CRS for the document: its code, else its WKT; empty when undeclared.
std::string crsText(const crs::CrsPtr& crs);

}  // namespace ledge::session
