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
/// A pattern over the inside of areas, laid out on the paper, not on the feature.
struct PatternPart {
    Pattern pattern = Pattern::Hatch;
    Colour colour;
    double spacingMm = 1.4, lineMm = 0.15, turn = 45;
    std::string picture = {};  ///< of Pattern::Pictures
    bool operator==(const PatternPart&) const = default;
};
/// Lines, and the outlines of areas.
struct LinePart {
    Colour colour;
    double widthMm = 0.25;
    Dash dash = Dash::Solid;
    std::vector<double> dashesMm = {};
    Cap cap = Cap::Usual;
    Join join = Join::Round;
    double offsetMm = 0;
    /// Painted before the other parts of all features, so that lines that meet run into each other.
    bool isBeneath = false;
    bool operator==(const LinePart&) const = default;
};
/// What stands along lines at even distances.
struct AlongPart {
    Along along = Along::Arrows;
    Mark mark = Mark::Circle;
    Colour colour;
    double sizeMm = 1.8, everyMm = 12, offsetMm = 0;
    bool operator==(const AlongPart&) const = default;
};
/// A mark at points, with its own fill and ring.
struct MarkPart {
    Mark mark = Mark::Circle;
    double sizeMm = 1.8;
    double turn = 0;
    std::optional<Colour> fill;
    std::optional<LinePart> ring;
    std::string picture = {}, text = {}, font = {};  ///< in place of the mark, as a look has them
    bool operator==(const MarkPart&) const = default;
};
using SymbolPart = std::variant<FillPart, PatternPart, LinePart, AlongPart, MarkPart>;

struct Symbol {
    std::vector<SymbolPart> parts;
    bool operator==(const Symbol&) const = default;
    bool isEmpty() const { return parts.empty(); }
    /// How far its ink reaches beyond a geometry, millimetres.
    double reachMm() const;
    /// Whether a part of it is painted before all other features.
    bool hasBeneath() const;
    /// The colour by which it is known at a distance: of its last line, else of its fill.
    std::optional<Colour> dominant() const;
};

/// The parts that a look stands for on geometries of a type.
Symbol symbolOf(const Look& look, GeometryType type);
/// Its mark alone, whatever the geometry: for marks set on areas.
Symbol markSymbolOf(const Look& look);

}  // namespace ledge::doc
