#pragma once
#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <string>
#include <vector>

#include "core/base/colour.h"
#include "core/base/numbers.h"
#include "core/classify/breaks.h"
#include "core/symbol/ramp.h"
#include "core/symbol/stretch.h"
#include "core/terrain/contours.h"
#include "core/terrain/hillshade.h"
#include "document/id.h"

namespace ledge::doc {

enum class Dash : std::uint8_t { Solid, Dashes, Dots, DashDot };
/// How lines and dashes end. Usual: lines round, dashes flat.
enum class Cap : std::uint8_t { Usual, Round, Flat, Square };
/// How lines turn a corner.
enum class Join : std::uint8_t { Round, Mitre, Bevel };
enum class Mark : std::uint8_t {
    Circle,
    Square,
    Triangle,
    Diamond,
    Pentagon,
    Star,
    Plus,
    Cross,
    Drop,
    Needle,
};
/// What the inside of areas is filled with. Pictures are copies of the look's own one.
enum class Pattern : std::uint8_t { Plain, Hatch, CrossHatch, Dots, Crosses, Pictures };
/// What stands along a line.
enum class Along : std::uint8_t { Nothing, Arrows, Marks, Ticks };

/// How one kind of feature is drawn. Lengths in millimetres on paper.
struct Look {
    Colour fill{0xC9, 0xCE, 0xE4};
    Colour stroke{0x3D, 0x42, 0x96};
    bool hasFill = true;
    bool hasStroke = true;
    double strokeMm = 0.25;
    Dash dash = Dash::Solid;
    std::vector<double> dashesMm;  ///< ink, gap, ink …; when given, in place of `dash`
    Cap cap = Cap::Usual;
    Join join = Join::Round;
    double offsetMm = 0;  ///< of lines, to the right of the way they run
    double casingMm = 0;  ///< seen on either side of a line, beneath all of its layer
    Colour casing{0xFB, 0xFA, 0xF6};
    Along along = Along::Nothing;
    double alongMm = 12;  ///< from one to the next
    Pattern pattern = Pattern::Plain;
    Colour patternInk{0x6B, 0x6F, 0x8E};
    double patternMm = 1.4;  ///< from line to line, or dot to dot
    double patternLineMm = 0.15;
    double patternTurn = 45;  ///< degrees, lines rising to the right
    Mark mark = Mark::Circle;
    double markMm = 1.8;
    double markTurn = 0;  ///< degrees, clockwise
    /// In place of the mark, the first of these that is not empty: a drawing as SVG text, or
    /// characters of a font.
    std::string markPicture, markText;
    std::string markFont;        ///< of the characters; empty: the program's own
    std::string patternPicture;  ///< of Pattern::Pictures, as SVG text
    bool operator==(const Look&) const = default;
};

struct Category {
    std::string value;  ///< exact text of the attribute value
    std::string label;  ///< as the legend says it
    Look look;
    std::vector<std::string> more = {};  ///< further values of the same category
    bool isShown = true;
    bool operator==(const Category&) const = default;
};

/// One of the classes of a field's numbers.
struct NumberClass {
    std::string label;  ///< as the legend says it; empty: its limits
    Look look;
    bool isShown = true;
    bool operator==(const NumberClass&) const = default;
};

/// Classes of numbers: one more than there are breaks, each from its break on.
struct ClassRule {
    classify::Method method = classify::Method::Natural;
    std::vector<double> breaks;  ///< ascending
    double low = 0, high = 1;    ///< of the values when the breaks were found
    std::string family = "slate";
    bool isFlipped = false;
    std::vector<NumberClass> classes;
    bool operator==(const ClassRule&) const = default;
};

/// Marks and lines whose size follows a number, or the class of the style's classes that it is in.
struct SizeRule {
    double largestMm = 9, smallestMm = 0.8;
    double high = 1;            ///< the number drawn largest
    bool isByArea = true;       ///< the area follows the number, else the width
    bool isPerceptual = false;  ///< larger ones a little larger than that (exponent 0.57)
    bool isClassed = false;     ///< a size a class, from the smallest to the largest
    bool operator==(const SizeRule&) const = default;
};

/// Dots for counts, strewn over areas.
struct DotField {
    std::string field;
    Colour colour;
    bool operator==(const DotField&) const = default;
};
struct DotRule {
    std::vector<DotField> fields;
    double each = 1;  ///< what one dot stands for
    double dotMm = 0.5;
    int seed = 1;
    Id outside = 0;  ///< a layer whose areas take no dots
    bool operator==(const DotRule&) const = default;
};

/// One of several rules: the first that holds for a feature, at the scale, draws it.
struct StyleRule {
    std::string label;
    std::string keep;  ///< a condition of the Ask language; empty: all
    Look look;
    double widestScale = 0, closestScale = 0;  ///< 0: no limit
    bool isShown = true;
    bool operator==(const StyleRule&) const = default;
};

enum class Classing : std::uint8_t { Single, Categories, Ramp, Classes, Sized, Dots, Rules };

struct VectorStyle {
    Classing classing = Classing::Single;
    Look look;          ///< of all features, or what categories and ramps start from
    std::string field;  ///< the name of a field, else a formula of the Ask language
    std::string per;    ///< what its numbers are divided by, alike; empty: nothing
    std::vector<Category> categories;
    Look others;  ///< values that are in no category, features that no rule holds for
    bool showsOthers = true;
    Ramp ramp;  ///< colours of the main part over the field's numbers
    ClassRule classes;
    SizeRule sizes;
    DotRule dots;
    std::vector<StyleRule> rules;
    bool hasOutlines = true;  ///< off: areas of every class without their outlines
    std::string turnBy;  ///< field or formula: degrees by which marks are turned clockwise besides
    /// Sizes and widths of looks are metres on the ground in place of millimetres on paper.
    bool isOnGround = false;
    Look missing;  ///< features whose value is missing
    NumberFormat numbers;
    bool operator==(const VectorStyle&) const = default;
};

/// Where a label stands by hand: it belongs to the feature's key, of which there may be several,
/// for scales that are far apart; see document/label_pins.h.
struct LabelPin {
    std::int64_t key = 0;
    bool isHidden = false;
    bool isPlaced = false;           ///< by the two offsets; else where there is room
    double rightMm = 0, downMm = 0;  ///< of its middle from what it names, on paper
    double turn = 0;                 ///< degrees, clockwise
    double scale = 0;                ///< at which it was set; holds from half to twice of it
    std::string text;                ///< in place of the label's; "\n" breaks lines
    double sizePt = 0;               ///< in place of the set's; 0: as the set has it
    std::optional<Colour> colour;    ///< alike
    bool operator==(const LabelPin&) const = default;
};

enum class LinePlace : std::uint8_t { Above, On, Below };
enum class AreaPlace : std::uint8_t { Inside, Along, Outside };

/// One set of labels on features.
struct LabelStyle {
    std::string name;  ///< as the stack calls it; empty: "Labels"
    bool isOn = false;
    std::string text;  ///< the name of a field, else a formula of the Ask language
    std::string keep;  ///< a condition; empty: all
    std::string rank;  ///< field or formula: higher is placed first; may be empty
    std::string font;  ///< its family; empty: the program's own
    double sizePt = 8;
    Colour colour{0x23, 0x26, 0x3F};
    bool isItalic = false, isBold = false, hasHalo = true, isUpper = false;
    Colour halo{250, 250, 252, 178};
    double haloMm = 0.35;  ///< around the letters, on paper
    bool hasBackground = false;
    Colour background{0xFB, 0xFA, 0xF6};
    double letterSpacing = 0;  ///< of the size of the type
    double lineSpacing = 1.15;
    int wrapAt = 0;  ///< characters a line; 0: in one
    NumberFormat numbers;
    LinePlace onLines = LinePlace::Above;
    AreaPlace inAreas = AreaPlace::Inside;
    double repeatMm = 100;       ///< along lines
    double widestScale = 0;      ///< not drawn at smaller scales (larger denominators); 0: always
    double closestScale = 0;     ///< nor at larger ones
    std::vector<LabelPin> pins;  ///< by key, then scale
    bool operator==(const LabelStyle&) const = default;

    /// That of a feature whose reference scale is nearest; null without any. 0: no scale.
    const LabelPin* pin(std::int64_t key, double scale) const;
};

/// Three bands as red, green and blue.
struct ImageStyle {
    std::array<int, 3> bands{0, 1, 2};  ///< from 0
    Stretch stretch = Stretch::Trimmed;
    double trimPercent = 2;
    double spreadDeviations = 2;
    bool isOfView = false;  ///< limits from what is in view, else `limits`
    std::array<StretchLimits, 3> limits;
    double gamma = 1;
    double amount() const { return stretch == Stretch::Spread ? spreadDeviations : trimPercent; }
    bool operator==(const ImageStyle&) const = default;
};

/// One class of a raster of classes.
struct RasterClass {
    double value = 0;
    std::string name;
    Colour colour;
    bool isShown = true;
    std::int64_t count = 0;  ///< cells, from every cell when the layer was made
    /// Of the columns added to the table, in their order; nothing where there is no number.
    std::vector<std::optional<double>> numbers = {};
    bool operator==(const RasterClass&) const = default;
};

/// A column of numbers that was added to the table of classes.
struct ClassColumn {
    std::string name;     ///< letters, digits and _, so that formulas can use it
    std::string formula;  ///< that filled it last; empty: typed in
    bool operator==(const ClassColumn&) const = default;
};

/// The table of a raster of classes, beside its rows.
struct ClassTable {
    std::vector<ClassColumn> columns;
    std::vector<std::string> hidden;  ///< names of columns that are not shown
    int areaUnit = 0;                 ///< place in the list of area units
    bool operator==(const ClassTable&) const = default;
};

/// How the colours of a raster's ramp are spread over its values. The ramp itself holds what is
/// drawn; this says how it was made, so that it can be made anew over other limits.
enum class Spread : std::uint8_t { Even, Logarithmic, Steps };

/// A picture of three bands, classes, or one band in the colours of a ramp: the first of these that
/// there is.
struct RasterStyle {
    std::optional<ImageStyle> image;
    std::vector<RasterClass> classes;
    ClassTable classTable;
    int band = 0;  ///< of classes and ramp, from 0
    Ramp ramp;
    std::string family = "stone";
    Spread spread = Spread::Even;
    classify::Method method = classify::Method::Equal;  ///< of steps
    int stepCount = 5;
    int sharedRamp = 0;       ///< rasters of one number here have one ramp; 0: its own
    bool showsCells = false;  ///< as they are, without mixing neighbours: for directions and codes
    NumberFormat numbers;
    bool operator==(const RasterStyle&) const = default;
};

/// Nothing: computed from the CRS's ground unit and the source's height unit.
using HeightScale = std::optional<double>;

struct HillshadeStyle {
    std::vector<terrain::Light> lights{{315, 45}};
    HeightScale heightScale;
    terrain::GradientMethod gradient = terrain::GradientMethod::Horn;
    Colour shade{0x2E, 0x2A, 0x4A};
    Colour highlight{0xFF, 0xF4, 0xD8};
    bool hasShadows = false;           ///< cast over the terrain
    std::vector<terrain::Light> kept;  ///< lights kept aside for comparing
    bool operator==(const HillshadeStyle&) const = default;
};

struct TintStyle {
    Ramp ramp;
    std::string family = "humid";
    NumberFormat numbers{0, true};
    bool operator==(const TintStyle&) const = default;
};

/// Slope in degrees as colours.
struct SteepnessStyle {
    Ramp ramp = steepnessTint();
    HeightScale heightScale;
    terrain::GradientMethod gradient = terrain::GradientMethod::Horn;
    bool operator==(const SteepnessStyle&) const = default;
};

struct ContourStyle {
    terrain::ContourLevels levels;
    bool thins = false;  ///< wider intervals at smaller scales; see contoursAt
    int indexEvery = 5;
    int smoothing = 0;  ///< 0: straight from cell to cell; else steps to a cell of the surface
    Colour land{0x7A, 0x55, 0x30};
    Colour water{0x3B, 0x74, 0x9C};
    double lineMm = 0.13, indexMm = 0.30;
    bool hasLabels = true;
    double labelPt = 6;
    bool operator==(const ContourStyle&) const = default;
};

/// Lines of round coordinates over the map.
struct GridStyle {
    bool isGraticule = true;  ///< meridians and parallels; else eastings and northings
    std::string crs;          ///< whose coordinates; empty: the map's, and its geographic CRS
    double interval = 0;      ///< degrees or units of the CRS; 0: by the scale
    Colour colour{0x4A, 0x4F, 0x7D};
    double lineMm = 0.1;
    bool hasLabels = true;
    double labelPt = 6;
    bool hasOutline = false;  ///< the edge of the globe, where the map shows it
    double outlineMm = 0.25;
    bool hasSea = false;  ///< the globe is filled, beneath all layers
    Colour sea{0xD8, 0xE6, 0xEC};
    bool operator==(const GridStyle&) const = default;
};

}  // namespace ledge::doc
