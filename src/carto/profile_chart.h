#pragma once
#include <QPainter>

#include "carto/text.h"
#include "core/base/units.h"
#include "core/geometry/point.h"

namespace ledge::carto {

/// One surface along a profile: x the distance, y the height, metres both; NaN where there is none.
struct ProfileSeries {
    QString name;
    Colour colour;
    std::vector<Point> points;
};

struct ProfileChart {
    std::vector<ProfileSeries> series;
    LengthUnit unit = LengthUnit::Metric;
    Colour ink{0x23, 0x26, 0x3F}, quiet{0x6B, 0x6F, 0x8E}, lines{0xD5, 0xD7, 0xE8};
    double textPt = 6.5;
    double marked = kNoMark;  ///< distance of the marker, metres; NaN for none
    static constexpr double kNoMark = std::numeric_limits<double>::quiet_NaN();
};

/// Where a chart's values lie on the device.
struct ChartFrame {
    QRectF plot;
    double length = 1, low = 0, high = 1;
    double exaggeration = 1;  ///< how much steeper slopes look than they are
    QPointF at(double distance, double height) const;
    double distanceAt(double x) const;
};

/// The frame that fits a chart into a rectangle: heights between round values, room for numbers.
ChartFrame chartFrame(const QRectF& rect, const ProfileChart& chart, double pxPerMm);

/// Draws it: round heights as fine lines, the first surface filled beneath, distances below, the
/// vertical exaggeration told.
void paintProfileChart(QPainter& painter, const QRectF& rect, const ProfileChart& chart,
                       double pxPerMm);

}  // namespace ledge::carto
