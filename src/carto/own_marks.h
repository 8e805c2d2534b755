#pragma once
#include <QPainter>
#include <QString>

#include "core/base/colour.h"

namespace ledge::carto {

/// A drawing given as SVG text, as wide or as high as `px`, around the origin; what it draws in the
/// colour of the text around it ("currentColor") is drawn in `ink`. On pictures it is drawn once
/// and copied. False where the text is no drawing; nothing is drawn then.
bool paintDrawing(QPainter& painter, const std::string& svg, double px, Colour ink);
/// Why a text is no drawing that can be used; empty when it is one.
QString drawingTrouble(const std::string& svg);

/// Characters of a font as an outline around the origin, capitals as high as `px`. A font that is
/// not there is replaced by the nearest one; see hasFont().
QPainterPath charactersPath(const std::string& text, const std::string& font, double px);
bool hasFont(const std::string& font);

}  // namespace ledge::carto
