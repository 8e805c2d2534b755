#include "session/shaping.h"

#include <algorithm>
#include <cmath>
#include <regex>

#include "core/base/numbers.h"
#include "core/crs/geodesic.h"
#include "core/crs/transformation.h"
#include "core/derive/polygons.h"
#include "core/geometry/measure.h"
#include "core/geometry/shaping.h"
#include "core/geometry/splitting.h"
#include "core/geometry/wkt_shape.h"

namespace ledge::session {
namespace {
std::string line(const char* what, FeatureKey key, const std::string& rest = {}) {
    return std::string(what) + "\t" + std::to_string(key) + (rest.empty() ? "" : "\t" + rest) +
           "\n";
}

FeatureKey freeKey(const FeatureTable& table) {
    FeatureKey most = 0;
    for (std::size_t i = 0; i < table.size(); ++i) most = std::max(most, table.key(i));
    return most + 1;
}

// Values of a feature for a new one. Tabs and line breaks have no place in an edit's text.
std::string valuesFor(const FeatureTable& table, std::size_t row, FeatureKey key) {
    std::string out;
    for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
        const FieldType type = table.info.fields[k].type;
        if (table.isMissing(row, k) || type == FieldType::Bytes) continue;
        std::string text = exactText(table.value(row, k));
        std::replace(text.begin(), text.end(), '\n', ' ');
        out += line("cell", key, table.info.fields[k].name + "\t" + text);
    }
    return out;
}

// Rows of a table by their keys, in the order of the table.
std::vector<std::size_t> rowsOf(const FeatureTable& table, std::vector<FeatureKey> keys) {
    std::sort(keys.begin(), keys.end());
    std::vector<std::size_t> out;
    for (std::size_t i = 0; i < table.size(); ++i)
        if (std::binary_search(keys.begin(), keys.end(), table.key(i))) out.push_back(i);
    return out;
}

// One row as several: it keeps the largest of the shapes.
std::string dividedRow(const FeatureTable& table, std::size_t row, std::vector<Geometry> pieces,
                       FeatureKey& next) {
    const auto size = [](const Geometry& g) {
        return g.type == GeometryType::Polygon ? planarArea(g) : planarLength(g);
    };
    std::iter_swap(pieces.begin(), std::max_element(pieces.begin(), pieces.end(),
                                                    [&](const Geometry& a, const Geometry& b) {
                                                        return size(a) < size(b);
                                                    }));
    std::string out = shapeEdit(table.key(row), pieces.front());
    for (std::size_t i = 1; i < pieces.size(); ++i, ++next)
        out += line("add", next, wktOf(pieces[i])) + valuesFor(table, row, next);
    return out;
}

std::string parting(const FeatureTable& table, const std::vector<std::size_t>& rows) {
    std::string out;
    FeatureKey next = freeKey(table);
    for (const std::size_t row : rows) {
        auto parts = partsOf(table.geometry(row));
        if (parts.size() > 1) out += dividedRow(table, row, std::move(parts), next);
    }
    return out;
}
}  // namespace

Result<ShapeInHand> shapeInHand(const doc::SourceRef& source, const SourceCache& cache,
                                FeatureKey key, const crs::CrsPtr& mapCrs,
                                const Progress& progress) {
    const auto table = cache.table(source, progress);
    if (!table) return table.error();
    const auto rows = rowsOf(**table, {key});
    if (rows.empty())
        return Error{ErrorCode::NotFound, source.name,
                     "has no feature " + std::to_string(key) + " any more", "pick another"};
    ShapeInHand out{source.id, key, (*table)->geometry(rows.front()).toGeometry(), {}};
    out.onMap = out.own;
    const auto way = crs::Transformation::between((*table)->info.crs, mapCrs);
    if (!way) return way.error();
    way->forward(out.onMap.points);
    return out;
}

Result<Geometry> inSource(const Geometry& onMap, const crs::CrsPtr& mapCrs,
                          const crs::CrsPtr& sourceCrs) {
    Geometry out = onMap;
    const auto way = crs::Transformation::between(mapCrs, sourceCrs);
    if (!way) return way.error();
    way->forward(out.points);
    if (out.isFinite()) return out;
    return Error{ErrorCode::InvalidArgument, "shape", "a vertex has no place in the layer's CRS",
                 "draw it within the CRS's area"};
}

Result<std::string> addingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                const Geometry& onMap, const crs::CrsPtr& mapCrs,
                                const Progress& progress) {
    const auto table = cache.table(source, progress);
    if (!table) return table.error();
    const LayerInfo& info = (*table)->info;
    if (info.geometry != GeometryType::None && info.geometry != onMap.type)
        return Error{ErrorCode::InvalidArgument, source.name,
                     "holds " + geometryTypeName(info.geometry, true) + ", not " +
                         geometryTypeName(onMap.type, true),
                     "choose another layer, or draw into a new one"};
    const auto own = inSource(onMap, mapCrs, info.crs);
    if (!own) return own.error();
    return line("add", freeKey(**table), wktOf(*own));
}

std::string shapeEdit(FeatureKey key, const std::optional<Geometry>& own) {
    return own ? line("shape", key, wktOf(*own)) : line("remove", key);
}

Result<std::string> splittingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                   const std::vector<FeatureKey>& keys, const Geometry& cutOnMap,
                                   const crs::CrsPtr& mapCrs, const Progress& progress) {
    const auto table = cache.table(source, progress);
    if (!table) return table.error();
    const auto cut = inSource(cutOnMap, mapCrs, (*table)->info.crs);
    if (!cut) return cut.error();
    FeatureKey next = freeKey(**table);
    std::string out;
    std::optional<Error> trouble;
    for (const std::size_t row : rowsOf(**table, keys)) {
        auto pieces = splitAlong((*table)->geometry(row), *cut);
        if (pieces)
            out += dividedRow(**table, row, *std::move(pieces), next);
        else
            trouble = pieces.error();
    }
    if (!out.empty()) return out;
    if (trouble) return *trouble;
    return Error{ErrorCode::InvalidArgument, "split", "nothing is picked", "pick a feature first"};
}

Result<std::string> mergingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                 const std::vector<FeatureKey>& keys, const Progress& progress) {
    const auto table = cache.table(source, progress);
    if (!table) return table.error();
    const auto rows = rowsOf(**table, keys);
    if (rows.size() < 2)
        return Error{ErrorCode::InvalidArgument, "merge", "fewer than two features are picked",
                     "pick those that become one"};
    std::vector<Geometry> shapes;
    for (const std::size_t row : rows) {
        shapes.push_back((*table)->geometry(row).toGeometry());
        if (shapes.back().type != shapes.front().type)
            return Error{ErrorCode::InvalidArgument, "merge", "they are of several types",
                         "pick features of one type"};
    }
    std::optional<Geometry> whole;
    if (shapes.front().type == GeometryType::Polygon) {
        whole = derive::unionOf(shapes);
    } else {
        whole = shapes.front();
        for (std::size_t i = 1; i < shapes.size(); ++i) whole = withParts(*whole, shapes[i]);
    }
    if (!whole)
        return Error{ErrorCode::InvalidArgument, "merge", "the areas cannot be joined",
                     "look for sides that cross each other"};
    std::string out = shapeEdit((*table)->key(rows.front()), whole);
    for (std::size_t i = 1; i < rows.size(); ++i)
        out += shapeEdit((*table)->key(rows[i]), std::nullopt);
    return out;
}

Result<std::string> partingEdits(const doc::SourceRef& source, const SourceCache& cache,
                                 const std::vector<FeatureKey>& keys, const Progress& progress) {
    const auto table = cache.table(source, progress);
    if (!table) return table.error();
    std::string out = parting(**table, rowsOf(**table, keys));
    if (!out.empty()) return out;
    return Error{ErrorCode::InvalidArgument, "parts", "nothing picked has several parts",
                 "pick features of several parts"};
}

std::optional<TypedLeg> typedLeg(const std::string& typed) {
    static const std::regex form(
        "([0-9]*[.]?[0-9]+)(?:(km|m|ft|nmi|mi)[,@;]?|[,@;]|(?=[ns]))([ns])?([0-9]*[.]?[0-9]+)"
        "(°|deg)?([ew])?");
    std::string text;
    bool wasBlank = false;
    // Blanks may stand anywhere but within numbers.
    for (const char c : lowered(trimmed(typed))) {
        if (c == ' ') {
            wasBlank = true;
            continue;
        }
        const auto isDigit = [](char d) { return (d >= '0' && d <= '9') || d == '.'; };
        if (wasBlank && !text.empty() && isDigit(text.back()) && isDigit(c)) text += '@';
        wasBlank = false;
        text += c;
    }
    std::smatch found;
    if (!std::regex_match(text, found, form)) return {};
    const bool isQuadrant = found[3].matched;
    if (isQuadrant != found[6].matched) return {};
    const auto length = parseNumber(found[1].str()), angle = parseNumber(found[4].str());
    if (!length || !angle || *length <= 0 || *angle > (isQuadrant ? 90 : 360)) return {};
    const std::string unit = found[2].str();
    const double metres = *length * (unit == "km"    ? 1000
                                     : unit == "ft"  ? kMetresPerFoot
                                     : unit == "mi"  ? 5280 * kMetresPerFoot
                                     : unit == "nmi" ? 1852
                                                     : 1);
    double bearing = *angle;
    if (isQuadrant) {
        if (found[3].str() == "s") bearing = 180 - bearing;
        if (found[6].str() == "w") bearing = 360 - bearing;
    }
    return TypedLeg{metres, std::fmod(bearing, 360), !unit.empty()};
}

Point endOfLeg(const crs::CrsPtr& mapCrs, Point from, const TypedLeg& leg) {
    if (!mapCrs) {
        const double angle = leg.bearing * crs::kRadiansPerDegree;
        return {from.x + leg.metres * std::sin(angle), from.y + leg.metres * std::cos(angle)};
    }
    const auto base = std::make_shared<const crs::Crs>(crs::geographicBase(*mapCrs));
    const auto way = crs::Transformation::between(mapCrs, base);
    if (!way) return kNowhere;
    const crs::Geodesic geodesic(mapCrs->ellipsoid);
    return way->inverse(geodesic.direct(way->forward(from), leg.bearing, leg.metres).at);
}

Result<void> writeEmptyLayer(const std::filesystem::path& path, GeometryType type,
                             const crs::CrsPtr& crs) {
    FeatureList list;
    list.info.name = path.stem().string();
    list.info.geometry = type;
    list.info.crs = crs;
    list.info.fields = {{"name", FieldType::Text}};
    FeatureTable table(std::move(list));
    table.info.geometry = type;
    return io::writeTable(table, path, {});
}

}  // namespace ledge::session
