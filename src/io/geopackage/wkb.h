#pragma once
#include <span>
#include <string>

#include "core/geometry/geometry.h"

namespace ledge::io {

/// A geometry from OGC well-known binary, with Z and M in their ISO and extended forms.
/// False for damaged bytes and for collections of mixed types. `out` is to be empty.
bool readWkb(std::span<const std::byte> bytes, Geometry& out);
/// Appends little-endian well-known binary, with Z and M (ISO 13249-3) where there are any.
void putWkb(std::string& out, const GeometryView& geometry);

}  // namespace ledge::io
