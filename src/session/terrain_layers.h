#pragma once
#include <span>

#include "session/source_cache.h"

/// Live strips that a DEM gives at one act, and lights by their names and directions.
namespace ledge::session {

/// Height tint, light and steepness of a DEM as a group, at tuned opacities; above everything.
std::pair<doc::Document, doc::Id> withRelief(doc::Document document, doc::Id source,
                                             const SourceCache& cache);
/// Contours of a DEM at the interval that suits a scale.
std::pair<doc::Document, doc::Id> withContours(doc::Document document, doc::Id source,
                                               const SourceCache& cache, double scale);
/// Name of a hillshade after its light: "Light 315/45", or with a project's own word before.
std::string lightName(const terrain::Light& light, const std::string& prefix = {});
/// The light square to a line drawn along a lineament (in the map's plane), from the side nearer to
/// the north-west; the altitude stays.
terrain::Light lightAcross(std::span<const Point> line, const terrain::Light& now);

}  // namespace ledge::session
