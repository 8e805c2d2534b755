#pragma once
#include "core/base/locator.h"
#include "core/base/progress.h"
#include "core/feature/feature.h"
#include "core/feature/feature_table.h"
#include "io/files/file_set.h"

namespace ledge::io {

/// How a table of text is laid out.
struct CsvLayout {
    char delimiter = ',';
    bool hasCommaDecimals = false;
    bool hasHeader = true;
};
/// Told from the first lines: the delimiter that divides them most evenly, a decimal comma where
/// cells look so and the delimiter is another, a first line of names. `delimiter`: 0 where it is to
/// be told.
CsvLayout guessedLayout(std::string_view text, char delimiter = 0);

/// Opens a table of text, laid out as `reading` says and as it looks; UTF-8 or UTF-16 by its mark,
/// ISO 8859-1 where it is neither and nothing is said. Types are those that every value
/// of a column has: whole numbers, numbers, yes and no, days, instants, else texts; codes that
/// begin with 0 stay texts. Shapes come from a column of well-known text (called wkt, geom,
/// geometry or shape), else from two of coordinates (x and y, easting and northing, lon and lat and
/// their like, in any case), whose CRS is that of a .prj beside it; longitudes and latitudes
/// without one are taken as WGS 84, and that is noted. Short and long rows are noted. Errors:
/// BadFormat without any row; LimitExceeded; Cancelled.
Result<FeatureSourcePtr> openCsv(const std::filesystem::path& path, const Progress& progress = {},
                                 const Reading& reading = {});

/// Writes a table with commas (RFC 4180); points as columns x and y, other shapes as well-known
/// text in a column wkt, the CRS in a .prj beside it.
Result<void> writeCsv(const FeatureTable& table, FileSet& set, const Progress& progress = {});

}  // namespace ledge::io
