#pragma once
#include <cstdint>
#include <span>
#include <vector>

#include "core/geometry/geometry.h"

namespace ledge {

/// Dots strewn over an area, and which of several kinds each is of.
struct StrewnDots {
    std::vector<Point> at;
    std::vector<std::uint8_t> kind;
};

/// So many dots of each kind inside a polygon, holes left out, kinds mixed. Each new dot is the one
/// of several random ones that lies farthest from those before (Mitchell, "Spectrally optimal
/// sampling for distribution ray tracing", 1991), which keeps dots apart without lining them up.
/// The same polygon, counts and seed give the same dots; more of the last kind leave the others
/// where they are only by chance. At most 100,000 in all; the rest is left out in proportion.
/// None lies in the areas `excluded`; an area wholly inside them takes none. Cost: near linear in
/// the dots.
StrewnDots strewn(const GeometryView& polygon, std::span<const std::int64_t> counts,
                  std::uint64_t seed, std::span<const GeometryView> excluded = {});

}  // namespace ledge
