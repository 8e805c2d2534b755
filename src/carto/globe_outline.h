#pragma once
#include <QImage>
#include <QPainterPath>
#include <algorithm>

#include "carto/map_frame.h"
#include "core/globe/domain.h"

namespace ledge::carto {

/// Where the map of the earth ends on a frame: its edge as a path, what it holds as an area.
class GlobeOutline {
public:
    explicit GlobeOutline(const MapFrame& frame);

    /// Nothing of the edge is on the frame: all of it is inside (or the map knows no globe).
    bool isBeyond() const { return m_isBeyond; }
    /// What is inside, in pixels of the frame; all of the frame when the edge is beyond.
    QPainterPath area() const;
    QPainterPath line() const;
    /// Whether one side goes on where the other begins: halves of pixels there would show a line.
    bool goesOn() const {
        return std::find(m_isSide.begin(), m_isSide.end(), true) != m_isSide.end();
    }
    const globe::Domain& domain() const { return m_domain; }

    /// Gives a picture of the frame a smooth edge where it ends at the globe's: pixels that the
    /// edge crosses take the colour of their neighbours, as far as they are inside.
    void smoothen(QImage& picture) const;

private:
    int m_widthPx, m_heightPx;
    bool m_isBeyond = true;
    globe::Domain m_domain;
    std::vector<Point> m_ring;   ///< in pixels, closed
    std::vector<bool> m_isSide;  ///< whether the way to the next is where a cylinder goes on
};

}  // namespace ledge::carto
