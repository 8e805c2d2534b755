#pragma once
#include "document/document.h"

/// What map panels show: their own place and lamps, or those they follow.
namespace ledge::doc {

/// The panel with the place, scale, rotation, CRS and lamps of what it follows, as far as that is
/// there; what follows itself in a circle is as it is.
MapPanel resolved(const Document& document, const MapPanel& panel);

/// The layers a panel shows: those kept in it, or the map's with the panel's lamps and order.
/// Layers whose lamps are as the map has them are shared.
std::vector<LayerPtr> panelLayers(const Document& document, const MapPanel& panel);

/// Layers and groups that are lit, groups before their children, top first: what a panel owns that
/// takes its lamps from here.
std::vector<Id> litLayers(const std::vector<LayerPtr>& layers);
/// The same with a view's lamps.
std::vector<Id> litLayers(const std::vector<LayerPtr>& layers, const std::set<Id>& dark);

/// Where a panel looks after its content was moved by so many millimetres, zoomed by a factor about
/// a place on it (mm from its middle), and turned. What it follows is let go.
MapPanel moved(const Document& document, MapPanel panel, Point byMm);
MapPanel zoomed(const Document& document, MapPanel panel, double factor, Point aboutMm);

}  // namespace ledge::doc
