#pragma once
#include <span>
#include <string>

#include "core/geometry/geometry.h"

namespace ledge::io {

/// A geometry from OGC well-known binary, ISO and extended Z and M forms included (left out).
/// False for damaged bytes and for collections of mixed types. `out` is to be empty.
bool readWkb(std::span<const std::byte> bytes, Geometry& out);
/// Appends little-endian 2D well-known binary.
void putWkb(std::string& out, const GeometryView& geometry);

}  // namespace ledge::io
