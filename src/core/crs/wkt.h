#pragma once
#include <string>

#include "core/crs/crs.h"

namespace ledge::crs {

/// Reads a geographic or projected CRS in WKT1 (OGC 01-009) with the name variants met in .prj
/// files, or in WKT2 (ISO 19162:2019), also inside a BOUNDCRS; of a compound CRS the horizontal
/// part. Names are compared by letters and digits; a definition without a code that equals a
/// shipped one takes its code, name and area. Errors: BadFormat with the offset, Unsupported for a
/// method we lack, InvalidArgument for impossible parameters.
Result<CrsPtr> crsFromWkt(const std::string& text);

/// WKT1 text of a CRS, on one line.
std::string toWkt(const Crs& crs);
/// WKT1 in the plain dialect of .prj files: names without blanks, no shift values, no codes, axes
/// only where they run west or south.
std::string toPlainWkt(const Crs& crs);
/// WKT2:2019 text, on several lines.
std::string toWkt2(const Crs& crs);

}  // namespace ledge::crs
