#pragma once
#include <QObject>
#include <QPainter>

#include "carto/map_frame.h"
#include "session/measurement.h"

namespace ledge::app {

/// The path or area being measured on the map: its points, the place under the pointer, what it
/// measures, and how it is drawn: the true curve on the ellipsoid, and dashed the straight line of
/// the plane where the two part.
class MeasureOverlay : public QObject {
    Q_OBJECT

public:
    /// In another CRS the points stay at their places; where one has none there, all are let go.
    void setCrs(const crs::CrsPtr& crs, LengthUnit unit);

    /// The place under the pointer, in the map's CRS.
    void hover(Point at);
    /// Takes the place under the pointer, or the vertex offered for it.
    void add();
    /// Takes a place that was typed.
    void addAt(Point at);
    /// The vertex offered for the place under the pointer.
    const std::optional<Point>& offered() const { return m_vertex; }
    void offerVertex(Point asked, std::optional<Point> vertex, double reach);
    void removeLast();
    /// Nothing follows the pointer any more; the next point begins anew.
    void finish();
    void clear();
    bool isArea() const { return m_isArea; }
    void setArea(bool isArea);
    bool snaps() const { return m_snaps; }
    void setSnaps(bool snaps) { m_snaps = snaps; }

    const std::vector<Point>& points() const { return m_points; }
    const crs::CrsPtr& crs() const { return m_crs; }
    /// Of the points taken; while drawing, with the one under the pointer.
    session::Measurement measured() const;
    void paint(QPainter& painter, const carto::MapFrame& frame) const;

Q_SIGNALS:
    void changed();

private:
    std::vector<Point> shown() const;

    crs::CrsPtr m_crs;
    LengthUnit m_unit = LengthUnit::Metric;
    std::vector<Point> m_points;
    Point m_hover = kNowhere;
    std::optional<Point> m_vertex;
    bool m_isArea = false, m_isDone = false, m_snaps = true;
};

}  // namespace ledge::app
