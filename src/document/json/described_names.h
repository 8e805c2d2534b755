#pragma once
#include "document/json/vocabulary.h"
#include "document/kinds.h"
#include "document/label_pins.h"

/// What the values of enumerations are called in files and edits, in their order.
namespace ledge::doc {

template <>
inline constexpr std::array<const char*, 4> kNames<Dash>{"solid", "dashes", "dots", "dash-dot"};
template <>
inline constexpr std::array<const char*, 4> kNames<Cap>{"usual", "round", "flat", "square"};
template <>
inline constexpr std::array<const char*, 3> kNames<Join>{"round", "mitre", "bevel"};
template <>
inline constexpr std::array<const char*, 10> kNames<Mark>{
    "circle", "square", "triangle", "diamond", "pentagon",
    "star",   "plus",   "cross",    "drop",    "needle"};
template <>
inline constexpr std::array<const char*, 6> kNames<Pattern>{"plain", "hatch",   "cross hatch",
                                                            "dots",  "crosses", "pictures"};
template <>
inline constexpr std::array<const char*, 3> kNames<Spread>{"even", "logarithmic", "steps"};
template <>
inline constexpr std::array<const char*, 3> kNames<GridForm>{"lines", "crosses", "ticks"};
template <>
inline constexpr std::array<const char*, 3> kNames<Upright>{"top", "middle", "bottom"};
template <>
inline constexpr std::array<const char*, 4> kNames<BarForm>{"hairline", "blocks", "steps", "rail"};
template <>
inline constexpr std::array<const char*, 4> kNames<ArrowDesign>{"plain", "split", "ring", "slim"};
template <>
inline constexpr std::array<const char*, 4> kNames<North>{"usual", "true", "grid", "typed"};
template <>
inline constexpr std::array<const char*, 4> kNames<ShapeForm>{"rectangle", "ellipse", "polygon",
                                                              "line"};
template <>
inline constexpr std::array<const char*, 2> kNames<ChartForm>{"histogram", "bars"};
template <>
inline constexpr std::array<const char*, 4> kNames<Side>{"left", "top", "right", "bottom"};
template <>
inline constexpr std::array<const char*, 5> kNames<SeriesOver>{"nothing", "features", "fields",
                                                               "layers", "views"};
template <>
inline constexpr std::array<const char*, 4> kNames<Along>{"nothing", "arrows", "marks", "ticks"};
template <>
inline constexpr std::array<const char*, 7> kNames<Classing>{
    "single", "categories", "ramp", "classes", "sized", "dots", "rules"};
template <>
inline constexpr std::array<const char*, 7> kNames<classify::Method>{
    "natural", "quantile", "equal", "round", "geometric", "stddev", "own"};
template <>
inline constexpr std::array<const char*, 3> kNames<LinePlace>{"above", "on", "below"};
template <>
inline constexpr std::array<const char*, 3> kNames<AreaPlace>{"inside", "along", "outside"};
template <>
inline constexpr std::array<const char*, 4> kNames<Stretch>{"full", "trimmed", "spread", "stored"};
template <>
inline constexpr std::array<const char*, 4> kNames<GeometryType>{"none", "point", "line",
                                                                 "polygon"};
template <>
inline constexpr std::array<const char*, 7> kNames<FieldType>{
    "text", "integer", "real", "boolean", "date", "time stamp", "bytes"};
template <>
inline constexpr std::array<const char*, 2> kNames<HeightUnit>{"metre", "foot"};
template <>
inline constexpr std::array<const char*, 3> kNames<CoordinateForm>{
    "map units", "degrees, minutes, seconds", "decimal degrees"};
template <>
inline constexpr std::array<const char*, 4> kNames<LengthUnit>{"metric", "feet", "US survey feet",
                                                               "nautical miles"};
template <>
inline constexpr std::array<const char*, 2> kNames<terrain::GradientMethod>{"horn",
                                                                            "zevenbergen-thorne"};
template <>
inline constexpr std::array<const char*, 3> kNames<Align>{kAlignNames};
template <>
inline constexpr std::array<const char*, 5> kNames<DateForm>{"iso", "dotted", "named",
                                                             "month and year", "year"};
template <>
inline constexpr std::array<const char*, 5> kNames<Blend>{"normal", "multiply", "screen", "overlay",
                                                          "soft light"};

/// Opens the description of a struct: `s` is the struct, `a` what goes by it.
#define LEDGE_DESCRIBED(T)                                                                         \
    template <>                                                                                    \
    struct IsDescribed<T> : std::true_type {};                                                     \
    inline void describe(auto& a, Is<T> auto& s)

}  // namespace ledge::doc
