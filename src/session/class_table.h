#pragma once
#include <array>
#include <filesystem>
#include <map>
#include <set>

#include "core/base/result.h"
#include "document/style.h"

/// The table of a raster of classes: its numbers, formulas and filters over them, its sidecar.
/// Columns that are always there: value, cells, area (in the table's unit), share (percent).
namespace ledge::session {

struct AreaUnit {
    const char* name;
    double squareMetres;
};
/// Hectares, square kilometres, square metres, acres.
const std::array<AreaUnit, 4>& areaUnits();

/// Square metres of each class, on the ellipsoid; empty where the ground size is not known.
using ClassAreas = std::map<double, double>;

/// Names of all columns of numbers, those always there first.
std::vector<std::string> classColumns(const doc::ClassTable& table);
/// The number in a column of a row; NaN where there is none or the ground size is not known
/// (`areas` empty). Shares are of areas where these are known, else of cells.
double classNumber(const doc::RasterStyle& style, std::size_t row, const std::string& column,
                   const ClassAreas& areas);

/// A column added, empty. Errors: InvalidArgument for a name that formulas could not use or that
/// is taken.
Result<doc::RasterStyle> withClassColumn(doc::RasterStyle style, const std::string& name);
doc::RasterStyle withoutClassColumn(doc::RasterStyle style, const std::string& name);
/// A column filled by a formula over the columns, in the rows of these values only when there are
/// any. Errors: those of Expression::parse; NotFound for a column that was not added.
Result<doc::RasterStyle> withClassFormula(doc::RasterStyle style, const std::string& column,
                                          const std::string& formula, const std::set<double>& rows,
                                          const ClassAreas& areas);
/// The values of rows for which a condition holds: a formula over the columns that is true, or a
/// part of the name in any case when it is no formula.
std::set<double> classesWhere(const doc::RasterStyle& style, const std::string& condition,
                              const ClassAreas& areas);

struct ColumnSummary {
    std::size_t count = 0;
    double sum = 0, mean = kNaN, low = kNaN, high = kNaN;
};
/// Of the rows of these values; of all when there are none.
ColumnSummary classSummary(const doc::RasterStyle& style, const std::string& column,
                           const std::set<double>& rows, const ClassAreas& areas);

/// land_cover.tif -> land_cover.classes.csv.
std::filesystem::path classSidecar(const std::filesystem::path& raster);
/// value, name, colour, shown, cells and the columns added, as CSV.
std::string classCsv(const doc::RasterStyle& style);
/// The classes of a style named, coloured and extended by such a text; rows of other values are
/// left out. Errors: BadFormat without a column "value".
Result<doc::RasterStyle> withClassCsv(doc::RasterStyle style, const std::string& text);

}  // namespace ledge::session
