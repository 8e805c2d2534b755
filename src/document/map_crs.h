#pragma once
#include "document/document.h"

namespace ledge::doc {

/// A CRS that a map, panel or profile of a document names, with the document's choices of datum
/// operations; null for plain local coordinates or a text that cannot be read.
crs::CrsPtr crsIn(const Document& document, const std::string& text);
inline crs::CrsPtr mapCrs(const Document& document) { return crsIn(document, document.mapCrs); }

/// Scale denominators. A view keeps that of the CRS's own units, so that moving the map does not
/// zoom it; people read and type the one that holds on the ground in the middle of what is seen, on
/// the ellipsoid (the mean over all directions there).
double groundScale(const MapView& view, const crs::CrsPtr& crs);
MapView atGroundScale(MapView view, const crs::CrsPtr& crs, double denominator);
double groundScale(const MapPanel& panel, const crs::CrsPtr& crs);
void setGroundScale(MapPanel& panel, const crs::CrsPtr& crs, double denominator);

/// A view in another CRS, looking at the same place at the same scale on the ground.
MapView viewInCrs(const MapView& view, const crs::CrsPtr& from, const crs::CrsPtr& to);
MapView viewOf(const MapPanel& panel);

}  // namespace ledge::doc
