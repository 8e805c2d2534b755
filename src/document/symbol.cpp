#include "document/symbol.h"

#include <algorithm>
#include <cmath>

namespace ledge::doc {
namespace {
struct Reach {
    double operator()(const FillPart&) const { return 0; }
    double operator()(const PatternPart&) const { return 0; }
    double operator()(const LinePart& line) const { return line.widthMm + std::abs(line.offsetMm); }
    double operator()(const AlongPart& along) const {
        return along.sizeMm + std::abs(along.offsetMm);
    }
    double operator()(const MarkPart& mark) const {
        return mark.sizeMm + (mark.ring ? mark.ring->widthMm : 0);
    }
};
struct Colours {
    std::optional<Colour> operator()(const FillPart& fill) const { return fill.colour; }
    std::optional<Colour> operator()(const PatternPart& pattern) const { return pattern.colour; }
    std::optional<Colour> operator()(const LinePart& line) const { return line.colour; }
    std::optional<Colour> operator()(const AlongPart& along) const { return along.colour; }
    std::optional<Colour> operator()(const MarkPart& mark) const {
        return mark.ring ? std::optional(mark.ring->colour) : mark.fill;
    }
};
}  // namespace

bool Symbol::hasBeneath() const {
    return std::any_of(parts.begin(), parts.end(), [](const SymbolPart& part) {
        const auto* line = std::get_if<LinePart>(&part);
        return line && line->isBeneath;
    });
}

double Symbol::reachMm() const {
    double out = 0;
    for (const SymbolPart& part : parts) out = std::max(out, std::visit(Reach{}, part));
    return out;
}

std::optional<Colour> Symbol::dominant() const {
    if (parts.empty()) return {};
    return std::visit(Colours{}, parts.back());
}

namespace {
LinePart lineOf(const Look& look) {
    LinePart out;
    out.colour = look.stroke;
    out.widthMm = look.strokeMm;
    out.dash = look.dash;
    out.dashesMm = look.dashesMm;
    out.cap = look.cap;
    out.join = look.join;
    out.offsetMm = look.offsetMm;
    return out;
}

MarkPart markOf(const Look& look) {
    MarkPart out;
    out.mark = look.mark, out.sizeMm = look.markMm, out.turn = look.markTurn;
    out.picture = look.markPicture, out.text = look.markText, out.font = look.markFont;
    if (look.hasFill) out.fill = look.fill;
    if (look.hasStroke) {
        out.ring = LinePart();
        out.ring->colour = look.stroke;
        out.ring->widthMm = look.strokeMm;
    }
    return out;
}

void addArea(Symbol& out, const Look& look) {
    if (look.hasFill) out.parts.push_back(FillPart{look.fill});
    if (look.pattern != Pattern::Plain)
        out.parts.push_back(PatternPart{look.pattern, look.patternInk, look.patternMm,
                                        look.patternLineMm, look.patternTurn, look.patternPicture});
}
}  // namespace

Symbol symbolOf(const Look& look, GeometryType type) {
    Symbol out;
    if (type == GeometryType::Point) {
        const MarkPart mark = markOf(look);
        if (mark.fill || mark.ring) out.parts.push_back(mark);
        return out;
    }
    if (type == GeometryType::Polygon) addArea(out, look);
    if (!look.hasStroke || look.strokeMm <= 0) return out;
    const LinePart line = lineOf(look);
    if (look.casingMm > 0 && type == GeometryType::Line) {
        LinePart casing = line;
        casing.colour = look.casing;
        casing.widthMm += 2 * look.casingMm;
        casing.isBeneath = true;
        // What is dashed is seen on whole casing.
        casing.dash = Dash::Solid;
        casing.dashesMm.clear();
        out.parts.push_back(casing);
    }
    out.parts.push_back(line);
    if (look.along != Along::Nothing)
        out.parts.push_back(AlongPart{look.along, look.mark, look.stroke, look.markMm, look.alongMm,
                                      look.offsetMm});
    return out;
}

Symbol markSymbolOf(const Look& look) {
    Symbol out;
    const MarkPart mark = markOf(look);
    if (mark.fill || mark.ring) out.parts.push_back(mark);
    return out;
}

}  // namespace ledge::doc
