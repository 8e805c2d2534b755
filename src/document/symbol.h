#pragma once
#include <variant>
#include <vector>

#include "core/geometry/geometry.h"
#include "document/style.h"

/// Symbols as lists of parts, painted bottom first. Map, sheet, legend and swatch paint the same
/// parts; a new kind of part is a struct here and its painting in carto/symbol_painter.
namespace ledge::doc {

/// The inside of areas.
struct FillPart {
    Colour colour;
    bool operator==(const FillPart&) const = default;
};
/// Lines, and the outlines of areas.
struct LinePart {
    Colour colour;
    double widthMm = 0.25;
    Dash dash = Dash::Solid;
    bool operator==(const LinePart&) const = default;
};
/// A mark at points, with its own fill and ring.
struct MarkPart {
    Mark mark = Mark::Circle;
    double sizeMm = 1.8;
    std::optional<Colour> fill;
    std::optional<LinePart> ring;
    bool operator==(const MarkPart&) const = default;
};
using SymbolPart = std::variant<FillPart, LinePart, MarkPart>;

struct Symbol {
    std::vector<SymbolPart> parts;
    bool operator==(const Symbol&) const = default;
    bool isEmpty() const { return parts.empty(); }
    /// How far its ink reaches beyond a geometry, millimetres.
    double reachMm() const;
    /// The colour by which it is known at a distance: of its last line, else of its fill.
    std::optional<Colour> dominant() const;
};

/// The parts that a look stands for on geometries of a type.
Symbol symbolOf(const Look& look, GeometryType type);

}  // namespace ledge::doc
