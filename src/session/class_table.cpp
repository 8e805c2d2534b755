#include "session/class_table.h"

#include <algorithm>
#include <cmath>

#include "core/base/numbers.h"
#include "core/raster/expression.h"
#include "io/files/csv.h"

namespace ledge::session {
namespace {
constexpr std::array<const char*, 4> kFixed{"value", "cells", "area", "share"};
constexpr std::array<const char*, 5> kCsvFixed{"value", "name", "colour", "shown", "cells"};

std::optional<std::size_t> columnOf(const doc::ClassTable& table, const std::string& name) {
    for (std::size_t i = 0; i < table.columns.size(); ++i)
        if (table.columns[i].name == name) return i;
    return std::nullopt;
}

bool isIdentifier(const std::string& name) {
    const auto isLetter = [](char c) {
        return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_';
    };
    return !name.empty() && isLetter(name[0]) && std::all_of(name.begin(), name.end(), [&](char c) {
        return isLetter(c) || (c >= '0' && c <= '9');
    });
}

// A formula's value in every row.
Result<std::vector<double>> evaluated(const doc::RasterStyle& style, const std::string& formula,
                                      const ClassAreas& areas) {
    const auto names = classColumns(style.classTable);
    const auto parsed = Expression::parse(formula, names);
    if (!parsed) return parsed.error();
    std::vector<std::vector<double>> columns;
    for (const std::string& name : names) {
        std::vector<double> column;
        for (std::size_t row = 0; row < style.classes.size(); ++row)
            column.push_back(classNumber(style, row, name, areas));
        columns.push_back(std::move(column));
    }
    const std::vector<std::span<const double>> spans(columns.begin(), columns.end());
    std::vector<double> out(style.classes.size());
    parsed->evaluate(spans, out);
    return out;
}
}  // namespace

const std::array<AreaUnit, 4>& areaUnits() {
    static const std::array<AreaUnit, 4> all{{{"hectares", 1e4},
                                              {"square kilometres", 1e6},
                                              {"square metres", 1},
                                              {"acres", 4046.8564224}}};
    return all;
}

std::vector<std::string> classColumns(const doc::ClassTable& table) {
    std::vector<std::string> out(kFixed.begin(), kFixed.end());
    for (const doc::ClassColumn& column : table.columns) out.push_back(column.name);
    return out;
}

double classNumber(const doc::RasterStyle& style, std::size_t row, const std::string& column,
                   const ClassAreas& areas) {
    const doc::RasterClass& one = style.classes[row];
    const auto cells = static_cast<double>(one.count);
    if (column == "value") return one.value;
    if (column == "cells") return cells;
    if (column == "area") {
        const auto unit = static_cast<std::size_t>(std::clamp(style.classTable.areaUnit, 0, 3));
        const auto it = areas.find(one.value);
        return it != areas.end() ? it->second / areaUnits()[unit].squareMetres : kNaN;
    }
    if (column == "share") {
        double total = 0;
        for (const auto& [value, squareMetres] : areas) total += squareMetres;
        if (const auto it = areas.find(one.value); it != areas.end() && total > 0)
            return 100 * it->second / total;
        total = 0;
        for (const doc::RasterClass& other : style.classes)
            total += static_cast<double>(other.count);
        return total > 0 ? 100 * cells / total : kNaN;
    }
    const auto at = columnOf(style.classTable, column);
    return at && *at < one.numbers.size() ? one.numbers[*at].value_or(kNaN) : kNaN;
}

Result<doc::RasterStyle> withClassColumn(doc::RasterStyle style, const std::string& name) {
    if (!isIdentifier(name))
        return Error{ErrorCode::InvalidArgument, "\"" + name + "\"", "cannot name a column",
                     "begin with a letter; use letters, digits and _"};
    const auto names = classColumns(style.classTable);
    const bool isTaken = std::find(names.begin(), names.end(), name) != names.end() ||
                         std::find(kCsvFixed.begin(), kCsvFixed.end(), name) != kCsvFixed.end();
    constexpr std::array<const char*, 4> kWords{"and", "or", "not", "pi"};
    if (isTaken || std::find(kWords.begin(), kWords.end(), name) != kWords.end())
        return Error{ErrorCode::InvalidArgument, "\"" + name + "\"", "is taken already",
                     "choose another name"};
    style.classTable.columns.push_back({name, ""});
    for (doc::RasterClass& one : style.classes) one.numbers.resize(style.classTable.columns.size());
    return style;
}

doc::RasterStyle withoutClassColumn(doc::RasterStyle style, const std::string& name) {
    const auto at = columnOf(style.classTable, name);
    if (!at) return style;
    const auto offset = static_cast<std::ptrdiff_t>(*at);
    style.classTable.columns.erase(style.classTable.columns.begin() + offset);
    std::erase(style.classTable.hidden, name);
    for (doc::RasterClass& one : style.classes)
        if (*at < one.numbers.size()) one.numbers.erase(one.numbers.begin() + offset);
    return style;
}

Result<doc::RasterStyle> withClassFormula(doc::RasterStyle style, const std::string& column,
                                          const std::string& formula, const std::set<double>& rows,
                                          const ClassAreas& areas) {
    const auto at = columnOf(style.classTable, column);
    if (!at)
        return Error{ErrorCode::NotFound, "\"" + column + "\"", "is no column that can be filled",
                     "add a column first"};
    const auto values = evaluated(style, formula, areas);
    if (!values) return values.error();
    for (std::size_t row = 0; row < style.classes.size(); ++row) {
        doc::RasterClass& one = style.classes[row];
        if (!rows.empty() && !rows.contains(one.value)) continue;
        one.numbers.resize(style.classTable.columns.size());
        const double value = (*values)[row];
        one.numbers[*at] = std::isfinite(value) ? std::optional(value) : std::nullopt;
    }
    style.classTable.columns[*at].formula = formula;
    return style;
}

std::set<double> classesWhere(const doc::RasterStyle& style, const std::string& condition,
                              const ClassAreas& areas) {
    std::set<double> out;
    const std::string wanted = lowered(trimmed(condition));
    if (wanted.empty()) return out;
    const auto names = classColumns(style.classTable);
    const auto parsed = Expression::parse(condition, names);
    const bool isFormula = parsed && std::any_of(parsed->used().begin(), parsed->used().end(),
                                                 [](bool b) { return b; });
    const auto truths = isFormula ? evaluated(style, condition, areas) : std::vector<double>();
    for (std::size_t row = 0; row < style.classes.size(); ++row) {
        const bool holds = isFormula
                               ? truths && std::isfinite((*truths)[row]) && (*truths)[row] != 0
                               : lowered(style.classes[row].name).find(wanted) != std::string::npos;
        if (holds) out.insert(style.classes[row].value);
    }
    return out;
}

ColumnSummary classSummary(const doc::RasterStyle& style, const std::string& column,
                           const std::set<double>& rows, const ClassAreas& areas) {
    ColumnSummary out;
    for (std::size_t row = 0; row < style.classes.size(); ++row) {
        if (!rows.empty() && !rows.contains(style.classes[row].value)) continue;
        const double value = classNumber(style, row, column, areas);
        if (!std::isfinite(value)) continue;
        ++out.count;
        out.sum += value;
        out.low = std::isnan(out.low) ? value : std::min(out.low, value);
        out.high = std::isnan(out.high) ? value : std::max(out.high, value);
    }
    if (out.count > 0) out.mean = out.sum / static_cast<double>(out.count);
    return out;
}

std::filesystem::path classSidecar(const std::filesystem::path& raster) {
    return raster.parent_path() / (raster.stem().string() + ".classes.csv");
}

std::string classCsv(const doc::RasterStyle& style) {
    std::string out = "value,name,colour,shown,cells";
    for (const doc::ClassColumn& column : style.classTable.columns)
        out += "," + io::csvCell(column.name);
    out += "\n";
    for (const doc::RasterClass& one : style.classes) {
        out += exactNumber(one.value) + "," + io::csvCell(one.name) + "," + colourText(one.colour) +
               "," + (one.isShown ? "yes" : "no") + "," + std::to_string(one.count);
        for (std::size_t i = 0; i < style.classTable.columns.size(); ++i)
            out += "," + (i < one.numbers.size() && one.numbers[i] ? exactNumber(*one.numbers[i])
                                                                   : std::string());
        out += "\n";
    }
    return out;
}

Result<doc::RasterStyle> withClassCsv(doc::RasterStyle style, const std::string& text) {
    const auto rows = io::csvRows(text);
    const auto place = [&](const std::string& name) -> std::size_t {
        if (rows.empty()) return 0;
        return static_cast<std::size_t>(std::find(rows[0].begin(), rows[0].end(), name) -
                                        rows[0].begin());
    };
    const std::size_t value = place("value"), name = place("name"), colour = place("colour"),
                      shown = place("shown");
    if (rows.empty() || value >= rows[0].size())
        return Error{ErrorCode::BadFormat, "table of classes", "has no column \"value\"",
                     "its first line is to name the columns: value,name,colour"};
    std::vector<std::pair<std::size_t, std::size_t>> added;  // column of the text, of the table
    for (std::size_t i = 0; i < rows[0].size(); ++i) {
        if (std::find(kCsvFixed.begin(), kCsvFixed.end(), rows[0][i]) != kCsvFixed.end()) continue;
        auto wider = withClassColumn(style, rows[0][i]);
        if (!wider) continue;
        style = *std::move(wider);
        added.emplace_back(i, style.classTable.columns.size() - 1);
    }
    for (std::size_t r = 1; r < rows.size(); ++r) {
        const auto& row = rows[r];
        const auto cell = [&row](std::size_t i) { return i < row.size() ? row[i] : std::string(); };
        const auto number = parseNumber(cell(value));
        const auto one =
            std::find_if(style.classes.begin(), style.classes.end(),
                         [&](const doc::RasterClass& c) { return number && c.value == *number; });
        if (one == style.classes.end()) continue;
        if (!cell(name).empty()) one->name = cell(name);
        if (const auto said = parseColour(cell(colour))) one->colour = *said;
        if (!cell(shown).empty()) one->isShown = cell(shown) != "no";
        for (const auto& [from, to] : added)
            if (const auto told = parseNumber(cell(from))) one->numbers[to] = told;
    }
    return style;
}

}  // namespace ledge::session
