#pragma once
#include "carto/text.h"
#include "core/feature/value.h"
#include "core/label/curve_places.h"
#include "document/style.h"

namespace ledge::carto {

/// The text of one label as it is set: its lines, and how large they are in pixels.
struct LabelText {
    QStringList lines;
    TextStyle style;
    label::TextSize size;  ///< of all lines; the ascent is that of the first
    double lineHeight = 0;
    bool hasBackground = false;
    Colour background;

    QString plain() const { return lines.join(' '); }
    /// Whether its letters may be set one by one: of scripts that join or run leftwards they may
    /// not.
    bool canBend() const;
    /// Widths of its letters, with their spacing and so much more, as a share of the type size.
    std::vector<double> advances(double pxPerMm, double moreSpacing = 0) const;
};

/// What a number, date or text reads as on the map.
QString labelled(const Value& value, const doc::LabelStyle& labels);

/// A text in the style of a label set: capitals, breaks at "\\n" and by the number of characters.
LabelText set(const QString& text, const doc::LabelStyle& labels, double sizePt, double pxPerMm);

enum class TextAlign : std::uint8_t { Left, Centre, Right };
/// From the left end of the first baseline of its box, turned clockwise.
void drawLabel(QPainter& painter, const LabelText& text, Point origin, double angleRadians,
               TextAlign align, double pxPerMm);
/// Its letters where they stand.
void drawLetters(QPainter& painter, const LabelText& text, std::span<const label::Letter> letters,
                 double pxPerMm);

}  // namespace ledge::carto
