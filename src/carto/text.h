#pragma once
#include <QPainter>
#include <QString>

#include "core/base/colour.h"
#include "core/label/placement.h"

namespace ledge::carto {

/// Type on a map or sheet, sized in points on paper whatever the device.
struct TextStyle {
    double sizePt = 8;
    bool isBold = false, isItalic = false;
    Colour colour{0x23, 0x26, 0x3F};
    bool hasHalo = false;
    double letterSpacing = 0;  ///< share of the type size
};

inline QColor qt(Colour c) { return {c.r, c.g, c.b, c.a}; }

/// Measures in pixels; the same for every device, up to its scale.
label::TextSize measure(const QString& text, const TextStyle& style, double pxPerMm);

/// Draws from the left end of the baseline, turned clockwise by an angle.
void drawText(QPainter& painter, Point origin, double angleRadians, const QString& text,
              const TextStyle& style, double pxPerMm);

}  // namespace ledge::carto
