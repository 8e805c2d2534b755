#include "carto/lattice.h"

#include <cmath>

namespace ledge::carto {

Lattice::Lattice(const MapFrame& frame) : m_frame(frame) {
    m_frame.view.centre = {};
    m_frame.widthPx = m_frame.heightPx = 0;
}

bool Lattice::operator==(const Lattice& o) const { return m_frame == o.m_frame; }

Affine Lattice::toPixels() const { return m_frame.toPixels(); }

MapFrame Lattice::aligned(const MapFrame& frame) {
    const Lattice lattice(frame);
    return lattice.frameOf(lattice.pixelsOf(frame));
}

PixelRect Lattice::pixelsOf(const MapFrame& frame) const {
    const Point middle = toPixels()(frame.view.centre);
    return {std::llround(middle.x - frame.widthPx / 2.0),
            std::llround(middle.y - frame.heightPx / 2.0), frame.widthPx, frame.heightPx};
}

MapFrame Lattice::frameOf(const PixelRect& pixels) const {
    MapFrame out = m_frame;
    out.widthPx = pixels.width;
    out.heightPx = pixels.height;
    const auto toMap = toPixels().inverse().value_or(Affine{});
    out.view.centre = toMap({static_cast<double>(pixels.left) + pixels.width / 2.0,
                             static_cast<double>(pixels.top) + pixels.height / 2.0});
    return out;
}

}  // namespace ledge::carto
