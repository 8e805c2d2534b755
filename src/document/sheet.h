#pragma once
#include <array>
#include <filesystem>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <variant>
#include <vector>

#include "core/base/colour.h"
#include "core/geometry/point.h"
#include "document/id.h"
#include "document/shared.h"
#include "document/style.h"

namespace ledge::doc {

struct Layer;
using LayerPtr = std::shared_ptr<const Layer>;

/// Millimetres on the page, from its upper left corner.
struct PageRect {
    double left = 0, top = 0, width = 10, height = 10;
    bool operator==(const PageRect&) const = default;
};

/// Of a new map panel.
inline constexpr double kNeatLineMm = 0.25;

/// Lines of coordinates over a panel, with their values outside its neat line.
enum class GridForm : std::uint8_t { Lines, Crosses, Ticks };
struct PanelGrid {
    GridStyle style;
    GridForm form = GridForm::Ticks;
    bool hasValues = true;  ///< outside the neat line
    bool operator==(const PanelGrid&) const = default;
};

/// A map on a sheet. It owns where it looks, or follows; styles follow the map unless kept.
struct MapPanel {
    Point centre;
    double scale = 50000;
    double rotation = 0;
    std::string crs;  ///< as Document::mapCrs
    bool hasTicks = true;
    std::optional<std::vector<LayerPtr>> frozen;
    /// Layers and groups that are lit here, in the order of drawing, the top first; all others are
    /// dark. None: the map's lamps and order.
    std::optional<std::vector<Id>> lit;
    /// A saved view, or a panel of any sheet, whose place, scale, rotation and lamps it has as
    /// long as that is there; 0: its own.
    Id follows = 0;
    std::vector<PanelGrid> grids;
    /// The panel in which this one's outline is shown; 0: in none.
    Id shownIn = 0;
    Colour outline{0xB4, 0x53, 0x2A};
    bool hasLeaders = false;  ///< from there to this panel's corners
    Id shapedBy = 0;          ///< a layer whose areas cut the map; 0: by its rectangle
    bool operator==(const MapPanel&) const;
};
enum class Align : std::uint8_t { Left, Centre, Right };
/// As projects and edits spell them, in the order of the enumeration.
inline constexpr std::array<const char*, 3> kAlignNames{"left", "centre", "right"};
enum class Upright : std::uint8_t { Top, Middle, Bottom };

/// Text with values in braces; see carto/live_text.h.
struct TextItem {
    std::string text;
    double sizePt = 9;
    bool isBold = false, isItalic = false;
    Colour colour{0x23, 0x26, 0x3F};
    Align align = Align::Left;
    Upright upright = Upright::Top;
    double lineSpacing = 1.3;
    std::string font = {};  ///< empty: the program's own
    bool operator==(const TextItem&) const = default;
};
struct LegendItem {
    Id panel = 0;
    int columns = 1;
    double sizePt = 7.5;
    std::string title;
    std::map<Id, std::string> names;  ///< renamed here without touching the layer
    std::vector<Id> left_out;         ///< layers not listed
    std::vector<Id> order = {};       ///< of layers listed first, in this order
    bool isOfView = false;            ///< only classes of which the panel shows a feature
    bool hasGroups = false;           ///< layers of a group together, beneath its name
    double patchMm = 7;               ///< width of a sample
    bool fits = true;                 ///< type, samples and columns give way until all fits
    std::string font = {};
    bool operator==(const LegendItem&) const = default;
};
enum class BarForm : std::uint8_t { Hairline, Blocks, Steps, Rail };
struct ScaleBarItem {
    Id panel = 0;
    double sizePt = 7;
    BarForm form = BarForm::Hairline;
    double length = 0;      ///< in its unit; 0: a round one by itself
    int divisions = 0;      ///< 0: by itself
    int leftDivisions = 0;  ///< of one division, to the left of zero
    std::string unit = {};  ///< a name of core/base/units.h; empty: as the project shows lengths
    std::string secondUnit = {};  ///< on a bar beneath; empty: none
    bool operator==(const ScaleBarItem&) const = default;
};
enum class ArrowDesign : std::uint8_t { Plain, Split, Ring, Slim };
/// True north where it differs from grid north by over half a degree, or as chosen.
enum class North : std::uint8_t { Usual, True, Grid, Typed };
struct NorthArrowItem {
    Id panel = 0;
    ArrowDesign design = ArrowDesign::Plain;
    North north = North::Usual;
    double degrees = 0;  ///< of North::Typed, from grid north, clockwise: the declination
    bool operator==(const NorthArrowItem&) const = default;
};
/// Credits of the sources drawn in the sheet's panels, then the text added.
struct CreditsItem {
    std::string added;
    double sizePt = 5.5;
    Align align = Align::Right;
    std::map<std::string, std::string> wording = {};  ///< of credits that are said otherwise here
    bool operator==(const CreditsItem&) const = default;
};
/// The chart of a profile kept on the ledge.
struct ProfileItem {
    Id profile = 0;
    double sizePt = 6.5;
    bool operator==(const ProfileItem&) const = default;
};
/// A picture from a file: PNG, JPEG, TIFF or SVG.
struct PictureItem {
    std::filesystem::path file;
    bool keepsShape = true;  ///< as large as fits, not pulled to the rectangle
    Align align = Align::Centre;
    bool operator==(const PictureItem&) const = default;
};
enum class ShapeForm : std::uint8_t { Rectangle, Ellipse, Polygon, Line };
struct ShapeItem {
    ShapeForm form = ShapeForm::Rectangle;
    std::vector<Point> points;  ///< of polygon and line: shares of the rectangle, from its top left
    bool hasFill = false, hasStroke = true;
    Colour fill{0xE9, 0xEA, 0xF4};
    Colour stroke{0x23, 0x26, 0x3F};
    double strokeMm = 0.3;
    Dash dash = Dash::Solid;
    double roundMm = 0;                     ///< of a rectangle's corners
    bool hasHead = false, hasTail = false;  ///< an arrow's, at the line's end and its start
    bool operator==(const ShapeItem&) const = default;
};
/// Rows of a layer's table.
struct TableItem {
    Id layer = 0;
    std::vector<std::string> fields;  ///< empty: the first four
    std::string keep;                 ///< a condition of the Ask language; empty: all rows
    std::string sortBy;               ///< field or formula
    bool isDescending = false;
    int mostRows = 20;
    double sizePt = 7;
    bool hasHead = true;
    bool hasLines = true;
    bool operator==(const TableItem&) const = default;
};
enum class ChartForm : std::uint8_t { Histogram, Bars };
/// A chart of a layer's values: how many lie where, or the rows' values as bars.
struct ChartItem {
    Id layer = 0;
    ChartForm form = ChartForm::Histogram;
    std::string field;  ///< field or formula
    std::string names;  ///< of bars: what each is called
    int bins = 20;
    int mostBars = 12;
    double sizePt = 6.5;
    std::string title;  ///< along its numbers; empty: the field
    Colour colour{0x6B, 0x74, 0xB5};
    bool operator==(const ChartItem&) const = default;
};
/// A kind that this version does not know; see UnknownLayer.
struct UnknownItem {
    std::string kind;
    bool operator==(const UnknownItem&) const = default;
};
using SheetContent =
    std::variant<MapPanel, TextItem, LegendItem, ScaleBarItem, NorthArrowItem, CreditsItem,
                 ProfileItem, PictureItem, ShapeItem, TableItem, ChartItem, UnknownItem>;

enum class Side : std::uint8_t { Left, Top, Right, Bottom };
/// A side of an item held at a distance from a side of the page or of another item.
struct ItemPin {
    Side side = Side::Left;
    Id of = 0;  ///< an item; 0: the page
    Side ofSide = Side::Left;
    double mm = 0;  ///< to the right, or down, of it
    bool operator==(const ItemPin&) const = default;
};

struct SheetItem {
    Id id = 0;
    std::string name;
    PageRect rect;
    bool isHidden = false, isLocked = false;
    SheetContent content;
    double frameMm = 0;
    Colour frame{0x23, 0x26, 0x3F};
    bool hasBackground = false;
    Colour background{0xFF, 0xFF, 0xFF};
    double paddingMm = 0;  ///< between frame and content
    double cornerMm = 0;   ///< radius of the frame's corners
    double opacity = 1;
    double turn = 0;  ///< degrees clockwise about its middle
    int group = 0;    ///< items of one number move together; 0: by itself
    std::vector<ItemPin> pins = {};
    bool operator==(const SheetItem&) const = default;

    template <typename T>
    const T* as() const {
        return std::get_if<T>(&content);
    }
    template <typename T>
    T* as() {
        return std::get_if<T>(&content);
    }
};
/// What its kind is called, as kinds.h has it.
std::string itemKind(const SheetItem& item);

/// What a sheet is repeated over.
enum class SeriesOver : std::uint8_t { Nothing, Features, Fields, Layers, Views };
/// One page for each feature of a layer, for each field that a layer is coloured by, or for each of
/// several layers or saved views that a panel shows; with the latter three, place and scale stay.
struct Series {
    SeriesOver over = SeriesOver::Nothing;
    Id panel = 0;               ///< that changes from page to page; 0: the first
    Id layer = 0;               ///< of features and fields
    std::string keep;           ///< a condition on features; empty: all
    std::string sortBy;         ///< field or formula; empty: as they stand in the table
    std::string naming;         ///< field or formula that names a page; empty: the layer's labels
    double marginPercent = 10;  ///< around a feature, of the panel
    double scale = 0;           ///< for each feature alike; 0: a round one that fits
    bool isAlone = false;       ///< only the page's feature is drawn of its layer
    std::vector<std::string> fields = {};
    std::vector<Id> things = {};  ///< layers or saved views
    Id indexPanel = 0;            ///< marks the page's feature; 0: none
    /// Conditions on features of other layers, which may name values of the page's feature.
    std::map<Id, std::string> filters = {};
    bool operator==(const Series&) const = default;
};

/// A page with its items, drawn from the last to the first of the list, so the first is on top.
struct Sheet {
    Id id = 0;
    std::string name;
    double widthMm = 297, heightMm = 210;
    std::vector<Shared<SheetItem>> items;
    double marginMm = 8;  ///< within which items snap and are fitted
    double bleedMm = 0;   ///< of backgrounds beyond the page's edge, in exports
    std::vector<double> guidesAcross, guidesDown;  ///< mm from the left and from the top
    Series series;
    bool operator==(const Sheet&) const = default;

    const SheetItem* item(Id itemId) const;
    /// The named panel, or the first one when there is no such; null without any.
    const SheetItem* panel(Id itemId) const;
};

}  // namespace ledge::doc
