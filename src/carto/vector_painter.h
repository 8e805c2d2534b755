#pragma once
#include <QPainter>

#include "carto/map_frame.h"
#include "document/drawing_data.h"
#include "document/symbol.h"

namespace ledge::carto {

/// Features that meet the frame, in their order, marks and lines in paper sizes. The areas of
/// `keptOff` take no dots.
Result<void> paintFeatures(QPainter& painter, const MapFrame& frame,
                           const doc::MapFeatures& features, const doc::VectorStyle& style,
                           const Progress& progress, const doc::MapFeatures* keptOff = nullptr);

/// One geometry with a symbol, in pixels of the frame.
/// `seams` marks the sides that are no outlines, by their first points; empty: all are.
void paintGeometry(QPainter& painter, const MapFrame& frame, const GeometryView& geometry,
                   const doc::Symbol& symbol, std::span<const std::uint8_t> seams = {});

/// What an outline stands for: what is selected or probed, or what answers a question and is not
/// selected (yet).
enum class Outline : std::uint8_t { Picked, Answer };
/// A lichen line on a paper-coloured casing, or a thin one in indigo. `seams` as above; on a
/// cylinder it is drawn in each turn that the frame shows.
void paintOutline(QPainter& painter, const MapFrame& frame, const GeometryView& geometry,
                  std::span<const std::uint8_t> seams = {}, Outline of = Outline::Picked);

}  // namespace ledge::carto
