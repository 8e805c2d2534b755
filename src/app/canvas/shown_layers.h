#pragma once
#include <set>

#include "document/document.h"

/// Layers as the canvas shows them while something is compared or picked; the document stays.
namespace ledge::app {

/// Layers with one left out, wherever in the tree it stands.
std::vector<doc::LayerPtr> withoutLayer(const doc::Document& document, doc::Id id);

/// What curtain and blink show: in front the strip or group `one`, behind it `other`, each without
/// the other, its lamp lit, and in the place of the upper of the two. Without `other`: in front
/// all, behind all but `one`.
enum class Side : std::uint8_t { Front, Behind };
std::vector<doc::LayerPtr> comparedLayers(const doc::Document& document, doc::Id one, doc::Id other,
                                          Side side);

/// Whether two can be compared: both there, neither inside the other.
bool canCompare(const doc::Document& document, doc::Id one, doc::Id other);

/// The classes of a raster layer that are not among the values made faint; as it is without values.
std::vector<doc::LayerPtr> withLitClasses(std::vector<doc::LayerPtr> layers, doc::Id raster,
                                          const std::set<double>& values);

}  // namespace ledge::app
