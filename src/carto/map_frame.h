#pragma once
#include <QPolygonF>
#include <QSizeF>

#include "core/crs/datum_choices.h"
#include "core/raster/warp.h"
#include "document/document.h"

namespace ledge::carto {

inline constexpr double kMmPerPoint = 25.4 / 72;

/// A map on a device: which part of a CRS falls on which pixels. Sizes on paper become pixels by
/// `pxPerMm`.
struct MapFrame {
    crs::CrsPtr crs;
    doc::MapView view;
    int widthPx = 0, heightPx = 0;
    double pxPerMm = 96 / 25.4;

    bool operator==(const MapFrame& o) const {
        return crs::isSame(crs, o.crs) && crs::haveSameChoices(crs, o.crs) && view == o.view &&
               widthPx == o.widthPx && heightPx == o.heightPx && pxPerMm == o.pxPerMm;
    }
    /// Map units that one pixel covers.
    double unitsPerPx() const;
    /// Map units by which sides may stray unseen: a tenth of a pixel, or 0.02 mm on paper.
    double tolerance() const { return std::max(0.1, mm(0.02)) * unitsPerPx(); }
    Affine toPixels() const;
    Affine toMap() const;
    /// Box of the frame in the map's CRS.
    Box extent() const;
    double mm(double millimetres) const { return millimetres * pxPerMm; }
    /// The frame's pixels as a grid, grown by a rim on every side.
    TargetGrid grid(int rim) const;
    /// Ground metres per map unit at the middle; 1 for an undeclared CRS.
    double groundMetresPerUnit() const;
    /// Scale denominator on the ground at the middle.
    double groundScale() const;
    /// By how much the scale on the ground varies over the frame: largest over smallest, less one.
    double scaleVariation() const;
    /// "1 : 50 000", and where it holds when it varies by more than 1 %.
    std::string scaleText() const;
};

/// The view that shows a box with a small margin, unrotated.
doc::MapView viewOf(const Box& box, const crs::CrsPtr& crs, int widthPx, int heightPx,
                    double pxPerMm);

/// The view after turning the wheel: `factor` of the scale, the place beneath the pixel kept.
doc::MapView zoomedAt(const MapFrame& frame, QPointF pixel, double factor);
doc::MapView panned(const MapFrame& frame, QPointF byPixels);

/// A frame as each turn around the earth tells it, where it shows the meeting of two: who goes over
/// the edge of a cylinder goes on around. A frame wider than the earth shows it once, as it is.
std::vector<MapFrame> turnsOf(const MapFrame& frame);

inline QPointF qt(Point p) { return {p.x, p.y}; }

}  // namespace ledge::carto
