#pragma once
#include <span>

#include "session/source_cache.h"

/// Live strips that a DEM gives at one act, and the light that shows a lineament.
namespace ledge::session {

/// Height tint, light and steepness of a DEM at tuned opacities, bottom first. Reads the DEM.
Result<std::vector<doc::Layer>> reliefLayers(const doc::SourceRef& source,
                                             const SourceCache& cache);
/// Contours of a DEM at the interval that suits a scale. Reads the DEM.
Result<doc::Layer> contourLayer(const doc::SourceRef& source, const SourceCache& cache,
                                double scale);
/// Layers as a group of a name above everything, and the group.
std::pair<doc::Document, doc::Id> withGroupOf(doc::Document document, const std::string& name,
                                              const std::vector<doc::Layer>& layers);
/// Contours above everything, and their layer; where a picture is shown they are light and full.
std::pair<doc::Document, doc::Id> withContours(doc::Document document, doc::Layer contours);
/// The light square to a line drawn along a lineament (in the map's plane), from the side nearer to
/// the north-west; the altitude stays.
terrain::Light lightAcross(std::span<const Point> line, const terrain::Light& now);

}  // namespace ledge::session
