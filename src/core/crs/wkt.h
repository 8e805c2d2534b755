#pragma once
#include <string>

#include "core/crs/crs.h"

namespace ledge::crs {

/// Reads a GEOGCS or PROJCS of OGC 01-009 (WKT1), with the name variants met in .prj files.
/// A definition equal to a built-in one takes its EPSG code.
/// Errors: BadFormat with the offset, Unsupported for a method we lack, InvalidArgument for
/// impossible parameters.
Result<CrsPtr> crsFromWkt(const std::string& text);

/// WKT1 text of a CRS, on one line.
std::string toWkt(const Crs& crs);

}  // namespace ledge::crs
