#pragma once
#include <optional>
#include <span>
#include <string>

#include "core/geometry/geometry.h"

namespace ledge::io {

/// A geometry from OGC well-known binary, ISO and extended Z and M forms included (left out).
/// Nothing for damaged bytes and for collections of mixed types.
std::optional<Geometry> readWkb(std::span<const std::byte> bytes);
/// Little-endian 2D well-known binary.
std::string writeWkb(const Geometry& geometry);

}  // namespace ledge::io
