#pragma once
#include "carto/map_frame.h"

namespace ledge::carto {

/// Pixels of a lattice: `left` and `top` counted from the origin of the map's CRS, right and down
/// as the map is turned.
struct PixelRect {
    std::int64_t left = 0, top = 0;
    int width = 0, height = 0;
    std::int64_t right() const { return left + width; }
    std::int64_t bottom() const { return top + height; }
    bool operator==(const PixelRect&) const = default;
};

/// The pixels of all frames of one CRS, scale, turn and density: a map that is panned stays on its
/// lattice, so that what was drawn for one frame serves another.
struct Lattice {
    explicit Lattice(const MapFrame& frame);
    bool operator==(const Lattice& o) const;

    /// The frame moved by less than a pixel, so that its corner is a corner of the lattice.
    static MapFrame aligned(const MapFrame& frame);
    /// The pixels of an aligned frame.
    PixelRect pixelsOf(const MapFrame& frame) const;
    MapFrame frameOf(const PixelRect& pixels) const;

private:
    Affine toPixels() const;  ///< from the map to the lattice
    MapFrame m_frame;         ///< of no size, at the origin
};

}  // namespace ledge::carto
