#pragma once
#include <array>
#include <memory>
#include <optional>
#include <set>
#include <string_view>
#include <variant>

#include "core/base/units.h"
#include "core/crs/datum_choices.h"
#include "core/feature/feature.h"
#include "document/sheet.h"
#include "document/source.h"
#include "document/style.h"

namespace ledge::doc {

enum class Blend : std::uint8_t { Normal, Multiply, Screen, Overlay, SoftLight };
/// As projects and edits write them, in the order of Blend.
inline constexpr std::array<std::string_view, 5> kBlendNames{"normal", "multiply", "screen",
                                                             "overlay", "soft light"};
inline const std::array<std::string_view, 5>& blendNames() { return kBlendNames; }
/// Nothing for other names.
std::optional<Blend> blendNamed(std::string_view name);

struct Group {
    bool isFolded = false;
    std::vector<LayerPtr> children;  ///< top first
    bool operator==(const Group&) const;
};
/// How days and instants are written.
enum class DateForm : std::uint8_t { Iso, Dotted, Named, MonthYear, Year };
/// How a column of the attribute table is shown.
struct ColumnLook {
    std::string field;
    bool isHidden = false;
    bool isPlaced = false;   ///< was put where the list has it, before those that were not
    bool isFrozen = false;   ///< stays at the left while others scroll
    bool isPercent = false;  ///< shares of one, shown as percent
    std::string unit;        ///< written behind numbers
    NumberFormat numbers;
    DateForm dates = DateForm::Iso;
    bool operator==(const ColumnLook&) const = default;
};
struct VectorLayer {
    VectorStyle style;
    std::vector<LabelStyle> labels{LabelStyle()};  ///< sets, one at least
    GeometryType geometry = GeometryType::None;
    double keepsLabelsOff = 1;  ///< how much labels of all layers keep off its lines and edges
    std::string filter;         ///< only features for which this holds, in CQL2-Text; empty: all
    std::vector<ColumnLook> columns;  ///< of fields that are shown otherwise than usual
    bool operator==(const VectorLayer&) const = default;
    /// The field or formula that names its features; empty without.
    std::string naming() const { return labels.empty() ? std::string() : labels.front().text; }
};
struct RasterLayer {
    RasterStyle style;
    bool operator==(const RasterLayer&) const = default;
};
struct HeightTint {
    TintStyle style;
    bool operator==(const HeightTint&) const = default;
};
struct Hillshade {
    HillshadeStyle style;
    bool operator==(const Hillshade&) const = default;
};
struct Steepness {
    SteepnessStyle style;
    bool operator==(const Steepness&) const = default;
};
struct Contours {
    ContourStyle style;
    bool operator==(const Contours&) const = default;
};
struct GridLines {
    GridStyle style;
    bool operator==(const GridLines&) const = default;
};
/// A kind that this version does not know, as a newer one may write it. It cannot be shown; what
/// the project says of it is kept.
struct UnknownLayer {
    std::string kind;
    bool operator==(const UnknownLayer&) const = default;
};
/// What each kind is called and needs stands in kinds.h.
using LayerContent = std::variant<Group, VectorLayer, RasterLayer, HeightTint, Hillshade, Steepness,
                                  Contours, GridLines, UnknownLayer>;

/// One strip of the stack.
struct Layer {
    Id id = 0;
    std::string name;
    bool isVisible = true;
    double opacity = 1;
    Blend blend = Blend::Normal;
    Id source = 0;  ///< 0 for groups and grid lines
    /// Scale denominators between which the layer shows; 0: no limit on that side.
    double widestScale = 0, closestScale = 0;
    LayerContent content;
    bool operator==(const Layer&) const = default;

    bool showsAt(double scale) const {
        return (widestScale <= 0 || scale <= widestScale * (1 + 1e-6)) &&
               (closestScale <= 0 || scale >= closestScale * (1 - 1e-6));
    }
    bool isGroup() const { return std::holds_alternative<Group>(content); }
    bool readsHeights() const;
    template <typename T>
    const T* as() const {
        return std::get_if<T>(&content);
    }
    template <typename T>
    T* as() {
        return std::get_if<T>(&content);
    }
};
/// What its kind is called, as kinds.h has it; of unknown kinds as the file has it.
std::string layerKind(const Layer& layer);

/// Where a map looks. Centre in the map's CRS; scale as its denominator in the CRS's own units (see
/// map_crs.h for the one on the ground); rotation in degrees by
/// which the map is turned clockwise.
struct MapView {
    Point centre;
    double scale = 50000;
    double rotation = 0;
    bool operator==(const MapView&) const = default;
};

/// A view on the ledge: where the map looks and which lamps are lit.
struct SavedView {
    Id id = 0;
    std::string name;
    MapView view;
    std::set<Id> dark;  ///< layers whose lamp is off
    bool operator==(const SavedView&) const = default;
};

/// A profile on the ledge: where it runs and whose heights it shows.
struct SavedProfile {
    Id id = 0;
    std::string name;
    std::string crs;  ///< of the line: EPSG:n, WKT, or empty
    std::vector<Point> line;
    std::vector<Id> sources;  ///< rasters, in the order of the chart
    bool operator==(const SavedProfile&) const = default;
};

/// A question on the ledge: what is asked of a layer.
struct SavedQuestion {
    Id id = 0;
    std::string name;
    Id layer = 0;
    std::string keep;  ///< CQL2-Text; empty: all
    /// Near to features of another layer, all or those for which a condition holds; 0: no matter.
    /// `relation` in place of a distance: a spatial predicate of CQL2, such as S_WITHIN.
    Id near = 0;
    std::string relation;
    std::string nearKeep;
    double withinMetres = 0;
    bool operator==(const SavedQuestion&) const = default;
};

/// A CRS of the user's own, made from a method and its parameters.
struct CustomCrs {
    std::string name;
    std::string wkt;
    bool operator==(const CustomCrs&) const = default;
};

/// The units that numbers are shown in, whatever the CRS's unit is.
struct Display {
    CoordinateForm coordinates = CoordinateForm::MapUnits;
    LengthUnit lengths = LengthUnit::Metric;
    bool operator==(const Display&) const = default;
};

/// A whole project as an immutable value: edits make a new one that shares what did not change.
struct Document {
    std::string name = "Untitled";
    std::string author;  ///< as sheets say it
    std::string mapCrs;  ///< EPSG:n, WKT, or empty for plain local coordinates
    std::vector<SourceRef> sources;
    std::vector<LayerPtr> layers;  ///< top first
    std::vector<SavedView> views;
    std::vector<SavedProfile> profiles;
    std::vector<SavedQuestion> questions;
    std::vector<Shared<Sheet>> sheets;
    std::vector<CustomCrs> customCrs;
    std::vector<crs::DatumChoice> datumChoices;  ///< at most one for a pair of datums
    Display display;
    std::string lightPrefix;  ///< before the names of lights
    MapView lastView;         ///< where the map looked when the project was saved
    Id nextId = 1;
    /// The text this was read from and the folder its paths are relative to, so that what this
    /// version does not know is written back. No part of what the document is.
    struct Opened {
        std::string text;
        std::filesystem::path folder;
    };
    std::shared_ptr<const Opened> opened;

    const SourceRef* source(Id id) const;
    const SavedView* view(Id id) const;
    const Sheet* sheet(Id id) const;
    const SavedProfile* profile(Id id) const;
    const SavedQuestion* question(Id id) const;
    /// The layer anywhere in the tree; null when there is none.
    const Layer* layer(Id id) const;
    bool operator==(const Document&) const;
};
using DocumentPtr = std::shared_ptr<const Document>;

/// A source as a layer reads it: with the layer's filter.
SourceRef readBy(const Layer& layer, const SourceRef& source);

/// Layers that draw, bottom first, with what their groups do to them folded in. `scale` over 0
/// leaves out those that do not show at it.
struct DrawnLayer {
    LayerPtr layer;
    double opacity = 1;
};
std::vector<DrawnLayer> drawnLayers(const std::vector<LayerPtr>& layers, double scale = 0);

/// Every layer of the tree, groups before their children, top first.
std::vector<LayerPtr> allLayers(const std::vector<LayerPtr>& layers);

}  // namespace ledge::doc
