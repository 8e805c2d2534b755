#include "io/csv/csv_table.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>
#include <utility>

#include "core/base/letters.h"
#include "core/base/numbers.h"
#include "core/feature/edit_log.h"
#include "core/geometry/wkt_shape.h"
#include "io/files/atomic_file.h"
#include "io/files/csv.h"
#include "io/files/encoding.h"
#include "io/files/reading_limit.h"
#include "io/files/sidecars.h"
#include "io/memory_features.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr std::size_t kLooked = 64 << 10;  // bytes from which the layout is told

using Names = std::span<const std::string_view>;
constexpr std::array<std::string_view, 5> kShapes{"wkt", "geom", "geometry", "the_geom", "shape"};
// Names that belong together, the likeliest first.
struct Pair {
    std::string_view east, north;
    bool areDegrees;
};
constexpr std::array<Pair, 8> kPairs{{{"longitude", "latitude", true},
                                      {"lon", "lat", true},
                                      {"long", "lat", true},
                                      {"lng", "lat", true},
                                      {"x", "y", false},
                                      {"easting", "northing", false},
                                      {"east", "north", false},
                                      {"e", "n", false}}};

bool isOf(Names names, const std::string& name) {
    const std::string word = lowerCased(name);
    return std::find(names.begin(), names.end(), word) != names.end();
}

bool looksLikeCommaNumber(const std::string& cell) {
    const auto comma = cell.find(',');
    if (comma == std::string::npos || cell.find(',', comma + 1) != std::string::npos) return false;
    std::string dotted = cell;
    dotted[comma] = '.';
    return parseNumber(dotted).has_value();
}

std::optional<double> numberIn(std::string cell, bool hasCommaDecimals) {
    if (hasCommaDecimals) std::replace(cell.begin(), cell.end(), ',', '.');
    const auto out = parseNumber(cell);
    return out && std::isfinite(*out) ? out : std::nullopt;
}

// What may be told of the values of a column so far.
struct Guess {
    bool isWhole = true, isReal = true, isFlag = true, isDate = true, isTime = true;
    bool isAny = false;
    void look(const std::string& raw, bool hasCommaDecimals) {
        const std::string cell = trimmed(raw);
        if (cell.empty()) return;
        isAny = true;
        const auto number = numberIn(cell, hasCommaDecimals);
        // "007" is a code.
        const bool isCode = cell.size() > 1 && cell[0] == '0' && cell[1] >= '0' && cell[1] <= '9';
        isReal = isReal && number && !isCode;
        isWhole = isWhole && isReal && valueOf(cell, FieldType::Integer).has_value() &&
                  cell.find_first_of(".eE,") == std::string::npos && std::abs(*number) < 9e15;
        isFlag = isFlag && valueOf(lowerCased(cell), FieldType::Boolean).has_value();
        isDate = isDate && parseDate(cell).has_value();
        isTime = isTime && parseTimeStamp(cell).has_value();
    }
    FieldType type() const {
        if (!isAny) return FieldType::Text;
        if (isWhole) return FieldType::Integer;
        if (isReal) return FieldType::Real;
        if (isFlag) return FieldType::Boolean;
        if (isDate) return FieldType::Date;
        return isTime ? FieldType::TimeStamp : FieldType::Text;
    }
};

// By its mark, as spreadsheets write it; else by what it can be.
std::string encodingOf(const std::string& text) {
    if (text.starts_with("\xFF\xFE")) return "UTF-16LE";
    if (text.starts_with("\xFE\xFF")) return "UTF-16BE";
    return isUtf8(text) ? "UTF-8" : "ISO-8859-1";
}

std::string freeName(std::string name, std::size_t column, const std::vector<Field>& taken) {
    if (trimmed(name).empty()) name = "column" + std::to_string(column + 1);
    name = trimmed(name);
    const std::string wanted = name;
    const auto isTaken = [&] {
        return std::any_of(taken.begin(), taken.end(),
                           [&](const Field& f) { return f.name == name; });
    };
    for (int n = 2; isTaken(); ++n) name = wanted + std::to_string(n);
    return name;
}
}  // namespace

CsvLayout guessedLayout(std::string_view text, char wanted) {
    std::string_view head = text.substr(0, kLooked);
    // Whole lines only.
    if (head.size() < text.size())
        if (const auto end = head.rfind('\n'); end != std::string_view::npos)
            head = head.substr(0, end);
    CsvLayout out;
    double best = 0;
    for (const char delimiter : {',', ';', '\t', '|'}) {
        CsvReader rows(head, delimiter);
        std::vector<std::string> row;
        std::size_t first = 0, alike = 0, count = 0;
        while (rows.next(row)) {
            if (count++ == 0) first = row.size();
            alike += row.size() == first ? 1U : 0U;
        }
        if (count == 0 || first < 2) continue;
        const double score = static_cast<double>(alike) / static_cast<double>(count) +
                             0.01 * static_cast<double>(std::min<std::size_t>(first, 20));
        if (score > best) best = score, out.delimiter = delimiter;
    }
    if (wanted != 0) out.delimiter = wanted;
    CsvReader rows(head, out.delimiter);
    std::vector<std::string> row, names;
    rows.next(names);
    std::size_t commas = 0, dots = 0;
    while (rows.next(row))
        for (const std::string& cell : row) {
            commas += looksLikeCommaNumber(trimmed(cell)) ? 1U : 0U;
            dots += cell.find('.') != std::string::npos && parseNumber(cell) ? 1U : 0U;
        }
    out.hasCommaDecimals = out.delimiter != ',' && commas > dots;
    out.hasHeader = std::none_of(names.begin(), names.end(), [&](const std::string& cell) {
        return numberIn(trimmed(cell), out.hasCommaDecimals).has_value();
    });
    return out;
}

Result<FeatureSourcePtr> openCsv(const fs::path& path, const Progress& progress,
                                 const Reading& reading) {
    auto read = readText(path);
    if (!read) return read.error();
    LayerInfo info;
    info.reading.encoding = reading.encoding.empty() ? encodingOf(*read) : reading.encoding;
    const TextDecoder decoder(info.reading.encoding);
    if (!decoder.isKnown())
        info.notes.push_back("the encoding \"" + reading.encoding +
                             "\" is not known; UTF-8 is taken");
    std::string decoded = decoder.decoded(*read);
    read = std::string();
    if (decoded.starts_with("\xEF\xBB\xBF")) decoded.erase(0, 3);
    const std::string text = std::move(decoded);
    CsvLayout layout = guessedLayout(text, reading.delimiter.empty() ? '\0' : reading.delimiter[0]);
    if (!reading.decimalSign.empty()) layout.hasCommaDecimals = reading.decimalSign == ",";
    if (reading.hasHeader) layout.hasHeader = *reading.hasHeader;
    info.reading.delimiter = layout.delimiter;
    info.reading.decimalSign = layout.hasCommaDecimals ? "," : ".";
    info.reading.hasHeader = layout.hasHeader;
    ReadingLimit limit(path);
    // Once to tell the types, once to read.
    std::vector<std::string> row, names;
    std::vector<Guess> guesses;
    std::size_t count = 0, uneven = 0;
    {
        CsvReader rows(text, layout.delimiter);
        if (layout.hasHeader) rows.next(names);
        while (rows.next(row)) {
            if (count++ % 4096 == 0) {
                if (progress.stopped()) return cancelled(nameOf(path));
                progress.at(0.4 * static_cast<double>(rows.at()) /
                            static_cast<double>(text.size()));
            }
            if (names.empty()) names.resize(row.size());
            uneven += row.size() != names.size() ? 1U : 0U;
            guesses.resize(std::max(guesses.size(), std::min(row.size(), names.size())));
            for (std::size_t k = 0; k < row.size() && k < guesses.size(); ++k)
                guesses[k].look(row[k], layout.hasCommaDecimals);
        }
    }
    if (names.empty()) return badFormat(path, "holds no rows", "choose another file");
    guesses.resize(names.size());
    info.name = path.stem().string();
    info.crs = crsBeside(path, info.notes);
    std::optional<std::size_t> shape, east, north;
    const Pair* pair = nullptr;
    for (std::size_t k = 0; k < names.size(); ++k) {
        const std::string name = trimmed(names[k]);
        info.fields.push_back({freeName(names[k], k, info.fields), guesses[k].type()});
        if (!shape && isOf(kShapes, name) && info.fields.back().type == FieldType::Text) shape = k;
    }
    const auto numbersCalled = [&](std::string_view wanted) -> std::optional<std::size_t> {
        for (std::size_t k = 0; k < names.size(); ++k)
            if (guesses[k].isAny && guesses[k].isReal && lowerCased(trimmed(names[k])) == wanted)
                return k;
        return {};
    };
    for (const Pair& one : kPairs) {
        east = numbersCalled(one.east);
        north = numbersCalled(one.north);
        pair = &one;
        if (east && north) break;
    }
    const bool hasPoints = !shape && east && north;
    if (hasPoints && !info.crs && pair->areDegrees) {
        info.crs = *crs::crsFromCode(4326);
        info.notes.push_back("longitudes and latitudes are taken as WGS 84: the file doesn't say");
    }
    // A column of shapes is no attribute.
    std::vector<std::size_t> kept;
    for (std::size_t k = 0; k < names.size(); ++k)
        if (k != shape) kept.push_back(k);
    if (shape) info.fields.erase(info.fields.begin() + static_cast<std::ptrdiff_t>(*shape));
    FeatureTableBuilder builder(info);
    std::size_t badShapes = 0, firstBad = 0;
    CsvReader rows(text, layout.delimiter);
    if (layout.hasHeader) rows.next(row);
    std::vector<Value> values(kept.size());
    for (FeatureKey key = 1; rows.next(row); ++key) {
        if (key % 4096 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(0.4 +
                        0.6 * static_cast<double>(rows.at()) / static_cast<double>(text.size()));
            if (const auto fine = limit.take(4096 * 64 * (kept.size() + 1), info.name); !fine)
                return fine.error();
        }
        row.resize(names.size());
        for (std::size_t i = 0; i < kept.size(); ++i) {
            std::string cell = row[kept[i]];
            const FieldType type = info.fields[i].type;
            values[i] = Value();
            if (type == FieldType::Text) {
                if (!cell.empty()) values[i] = std::move(cell);
                continue;
            }
            cell = trimmed(cell);
            if (cell.empty()) continue;
            if (type == FieldType::Real && layout.hasCommaDecimals)
                std::replace(cell.begin(), cell.end(), ',', '.');
            if (type == FieldType::Boolean) cell = lowerCased(cell);
            if (auto value = valueOf(cell, type)) values[i] = *std::move(value);
        }
        Geometry g;
        if (hasPoints) {
            const auto x = numberIn(trimmed(row[*east]), layout.hasCommaDecimals),
                       y = numberIn(trimmed(row[*north]), layout.hasCommaDecimals);
            if (x && y) g = Geometry::point({*x, *y});
        } else if (shape && !trimmed(row[*shape]).empty()) {
            auto made = shapeFromWkt(row[*shape]);
            if (made)
                g = *std::move(made);
            else if (badShapes++ == 0)
                firstBad = static_cast<std::size_t>(key);
        }
        builder.add(key, g, values);
    }
    FeatureTable table = builder.finish();
    // Half a number is a number too, so a missing line end is told as well.
    if (rows.isCut() || !text.ends_with('\n'))
        table.info.notes.push_back(rows.isCut()
                                       ? "it ends within quotes: the file is cut short"
                                       : "its last line has no end: the file may be cut short");
    if (uneven > 0)
        table.info.notes.push_back(formatNumber(static_cast<double>(uneven)) +
                                   " rows have more or fewer cells than there are columns");
    if (badShapes > 0)
        table.info.notes.push_back(formatNumber(static_cast<double>(badShapes)) +
                                   " shapes cannot be read, the first in row " +
                                   std::to_string(firstBad));
    table.refreshInfo();
    return FeatureSourcePtr(
        std::make_shared<MemoryFeatures>("CSV", std::vector<FeatureTable>{std::move(table)}));
}

Result<void> writeCsv(const FeatureTable& table, FileSet& set, const Progress& progress) {
    if (const auto done = putCrs(set, table.info.crs); !done) return done;
    bool arePoints = true, hasShapes = false;
    for (std::size_t i = 0; i < table.size(); ++i) {
        const GeometryView g = table.geometry(i);
        if (g.isEmpty()) continue;
        hasShapes = true;
        arePoints = arePoints && g.type == GeometryType::Point && g.points.size() == 1 &&
                    g.z.empty() && g.m.empty();
    }
    std::vector<Field> taken = table.info.fields;
    const std::string between = lowered(set.target().extension().string()) == ".tsv" ? "\t" : ",";
    std::string out;
    for (const Field& field : table.info.fields)
        out += (out.empty() ? "" : between) + csvCell(field.name, between[0]);
    const auto head = [&](const char* name) {
        const std::string free = freeName(name, 0, taken);
        taken.push_back({free, FieldType::Real});
        out += (out.empty() ? "" : between) + free;
    };
    if (hasShapes && arePoints) head("x"), head("y");
    if (hasShapes && !arePoints) head("wkt");
    out += '\n';
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 4096 == 0) {
            if (progress.stopped()) return cancelled(nameOf(set.target()));
            progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        }
        std::string line;
        auto put = [&, isFirst = true](const std::string& cell) mutable {
            line += (isFirst ? "" : between) + cell;
            isFirst = false;
        };
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            put(csvCell(exactText(table.value(i, k)), between[0]));
        const GeometryView g = table.geometry(i);
        if (hasShapes && arePoints) {
            put(g.isEmpty() ? "" : exactNumber(g.points[0].x));
            put(g.isEmpty() ? "" : exactNumber(g.points[0].y));
        } else if (hasShapes) {
            put(g.isEmpty() ? "" : csvCell(wktOf(g, Gaps::Zero), between[0]));
        }
        out += line + '\n';
    }
    return fillFile(set.main(), out, set.target());
}

}  // namespace ledge::io
