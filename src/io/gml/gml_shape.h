#pragma once
#include <pugixml.hpp>
#include <string>
#include <vector>

#include "core/geometry/geometry.h"

namespace ledge::io {

/// What an element of GML says of a shape. Members of a multi shape that are of another kind are
/// left out.
struct GmlShape {
    Geometry geometry;
    std::string crsName;    ///< srsName of the outermost element that has one
    bool isCurved = false;  ///< had arcs, now chords
};
/// Whether an element is a shape.
bool isGmlShape(const pugi::xml_node& node);
/// `dimension`: of positions where the element does not say.
GmlShape gmlShape(const pugi::xml_node& node, int dimension = 2);

}  // namespace ledge::io
