#pragma once
#include <string>
#include <string_view>

#include "core/base/result.h"
#include "core/geometry/geometry.h"

namespace ledge {

/// A shape in well-known text (OGC 06-103r4): POINT, LINESTRING, POLYGON and their MULTI forms,
/// with Z, M or ZM, or EMPTY. Words in any case; "nan" is a height or measure that a point has not.
/// Rings are closed where they are not. Errors:
/// BadFormat with the character; Unsupported for collections of several kinds and curves.
Result<Geometry> shapeFromWkt(std::string_view text);
/// The same for a shape that stands in a longer text: `at` is where it begins, and is set to behind
/// it, or to where the trouble is.
Result<Geometry> shapeFromWkt(std::string_view text, std::size_t& at);
/// How a height or measure that a point has not is written.
enum class Gaps : std::uint8_t {
    Named,  ///< "nan", which reads back
    Zero,   ///< as programs expect that know numbers only
};
/// Coordinates that read back exactly. Parts that the geometry has several of become MULTI forms.
std::string wktOf(const GeometryView& geometry, Gaps gaps = Gaps::Named);

}  // namespace ledge
