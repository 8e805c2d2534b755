#pragma once
#include <QPainter>
#include <QStringList>

#include "core/base/colour.h"
#include "core/label/placement.h"

namespace ledge::carto {

/// The family of all type that names no other; it comes with the program.
inline constexpr const char* kOwnFont = "Inter";

/// Type on a map or sheet, sized in points on paper whatever the device.
struct TextStyle {
    double sizePt = 8;
    bool isBold = false, isItalic = false;
    Colour colour{0x23, 0x26, 0x3F};
    bool hasHalo = false;
    double letterSpacing = 0;  ///< share of the type size
    std::string font = {};     ///< empty: the program's own
    Colour halo{250, 250, 252, 178};
    double haloMm = 0.35;  ///< around the letters
};

inline QColor qt(Colour c) { return {c.r, c.g, c.b, c.a}; }

/// Measures in pixels; the same for every device, up to its scale.
label::TextSize measure(const QString& text, const TextStyle& style, double pxPerMm);

/// Lines no wider than so many pixels, broken between words; a word that is wider stands alone.
/// Line breaks of the text stay.
QStringList wrapped(const QString& text, const TextStyle& style, double widthPx, double pxPerMm);

/// Draws from the left end of the baseline, turned clockwise by an angle.
void drawText(QPainter& painter, Point origin, double angleRadians, const QString& text,
              const TextStyle& style, double pxPerMm);

}  // namespace ledge::carto
