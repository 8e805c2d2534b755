#include "document/symbol.h"

#include <algorithm>

namespace ledge::doc {
namespace {
struct Reach {
    double operator()(const FillPart&) const { return 0; }
    double operator()(const LinePart& line) const { return line.widthMm; }
    double operator()(const MarkPart& mark) const {
        return mark.sizeMm + (mark.ring ? mark.ring->widthMm : 0);
    }
};
struct Colours {
    std::optional<Colour> operator()(const FillPart& fill) const { return fill.colour; }
    std::optional<Colour> operator()(const LinePart& line) const { return line.colour; }
    std::optional<Colour> operator()(const MarkPart& mark) const {
        return mark.ring ? std::optional(mark.ring->colour) : mark.fill;
    }
};
}  // namespace

double Symbol::reachMm() const {
    double out = 0;
    for (const SymbolPart& part : parts) out = std::max(out, std::visit(Reach{}, part));
    return out;
}

std::optional<Colour> Symbol::dominant() const {
    if (parts.empty()) return {};
    return std::visit(Colours{}, parts.back());
}

Symbol symbolOf(const Look& look, GeometryType type) {
    Symbol out;
    const bool hasLine = look.hasStroke && look.strokeMm > 0;
    const LinePart line{look.stroke, look.strokeMm, look.dash};
    if (type == GeometryType::Point) {
        MarkPart mark{look.mark, look.markMm, {}, {}};
        if (look.hasFill) mark.fill = look.fill;
        if (look.hasStroke) mark.ring = LinePart{look.stroke, look.strokeMm, Dash::Solid};
        if (mark.fill || mark.ring) out.parts.push_back(mark);
        return out;
    }
    if (type == GeometryType::Polygon && look.hasFill) out.parts.push_back(FillPart{look.fill});
    if (hasLine) out.parts.push_back(line);
    return out;
}

}  // namespace ledge::doc
