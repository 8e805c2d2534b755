#pragma once
#include <QPainter>
#include <QString>
#include <vector>

#include "carto/map_frame.h"
#include "core/base/units.h"

/// What the window writes over the map that is no part of it.
namespace ledge::app {

/// A scale bar on a plate, lower left.
void paintScalePlate(QPainter& painter, const carto::MapFrame& frame, LengthUnit lengths);

/// The divider of the curtain at so many pixels from the left, and what is on either side of it.
void paintCurtainEdge(QPainter& painter, const carto::MapFrame& frame, double x,
                      const QString& left, const QString& right);

/// A line of words about what the map shows, so many pixels from its top.
void paintNotice(QPainter& painter, const carto::MapFrame& frame, double topPx,
                 const QString& said);

/// The line of a profile, and the place that its chart points at; that one may be nowhere.
void paintProfileMarks(QPainter& painter, const carto::MapFrame& frame,
                       const std::vector<Point>& line, Point mark);

}  // namespace ledge::app
