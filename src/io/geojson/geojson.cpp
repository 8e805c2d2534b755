#include "io/geojson/geojson.h"

#include <simdjson.h>

#include <array>
#include <nlohmann/json.hpp>

#include "core/base/numbers.h"
#include "core/geometry/measure.h"
#include "core/globe/reproject.h"
#include "io/files/atomic_file.h"
#include "io/geojson/json_features.h"
#include "io/geojson/topojson.h"
#include "io/memory_features.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
namespace dom = simdjson::dom;

bool addPosition(const dom::element& json, Geometry& out) {
    dom::array values;
    if (json.get(values) != simdjson::SUCCESS) return false;
    std::array<double, 3> xyz{};
    std::size_t count = 0;
    for (const dom::element value : values) {
        if (count == xyz.size()) break;
        const auto one = number(value);
        if (!one && count < 2) return false;
        if (!one) break;
        xyz[count++] = *one;
    }
    if (count < 2) return false;
    out.points.push_back({xyz[0], xyz[1]});
    if (count > 2 || !out.z.empty()) {
        out.z.resize(out.points.size() - 1, std::nan(""));
        out.z.push_back(count > 2 ? xyz[2] : std::nan(""));
    }
    return true;
}

// Each of a list in turn; false when it is none, or one of it cannot be used.
template <typename Add>
bool addEach(const dom::element& json, const Add& add) {
    dom::array values;
    if (json.get(values) != simdjson::SUCCESS) return false;
    for (const dom::element value : values)
        if (!add(value)) return false;
    return true;
}

bool addPositions(const dom::element& json, Geometry& out) {
    return addEach(json, [&](const dom::element& p) { return addPosition(p, out); });
}

bool addRings(const dom::element& json, Geometry& out) {
    bool isOuter = true;
    return addEach(json, [&](const dom::element& ring) {
        out.beginPart(isOuter);
        isOuter = false;
        return addPositions(ring, out);
    });
}

// Empty optional: not a geometry. Collections are not supported and say so.
std::optional<Geometry> geometryOf(const dom::element& json) {
    Geometry out;
    if (json.is_null()) return out;
    std::string_view type;
    if (json["type"].get(type) != simdjson::SUCCESS) return {};
    dom::element coordinates;
    if (json["coordinates"].get(coordinates) != simdjson::SUCCESS) return {};
    const bool isMulti = out.isMulti = type.starts_with("Multi");
    const std::string_view base = isMulti ? type.substr(5) : type;
    const auto all = [&](const auto& add) {
        return isMulti ? addEach(coordinates, add) : add(coordinates);
    };
    bool good = false;
    if (base == "Point") {
        out.type = GeometryType::Point;
        dom::array values;
        if (coordinates.get(values) != simdjson::SUCCESS) return {};
        if (values.size() == 0) return Geometry{};
        good = all([&](const dom::element& p) {
            out.beginPart();
            return addPosition(p, out);
        });
    } else if (base == "LineString") {
        out.type = GeometryType::Line;
        good = all([&](const dom::element& line) {
            out.beginPart();
            return addPositions(line, out);
        });
    } else if (base == "Polygon") {
        out.type = GeometryType::Polygon;
        good = all([&](const dom::element& rings) { return addRings(rings, out); });
    }
    if (!good) return {};
    return out;
}

crs::CrsPtr namedCrs(const dom::element& root, std::vector<std::string>& notes) {
    const auto wgs84 = crs::crsFromCode(4326);
    std::string_view name;
    if (root["crs"]["properties"]["name"].get(name) != simdjson::SUCCESS || name.empty())
        return *wgs84;
    const auto found = crs::parseCrs(std::string(name));
    if (found && *found) return *found;
    notes.push_back("its CRS \"" + std::string(name) +
                    "\" is not built in; declare it from its WKT text");
    return {};
}
}  // namespace

namespace {
// Whole numbers too long for 64 bits, of which the parser knows nothing, as real ones.
std::string withoutLongNumbers(std::string_view text) {
    constexpr std::size_t kSafe = 18;  // digits
    std::string out;
    out.reserve(text.size() + 16);
    bool isInText = false;
    for (std::size_t i = 0; i < text.size();) {
        const char c = text[i];
        if (isInText || !(c >= '0' && c <= '9')) {
            if (isInText && c == '\\' && i + 1 < text.size()) out += text[i++];
            if (c == '"') isInText = !isInText;
            out += text[i++];
            continue;
        }
        std::size_t end = text.find_first_not_of("0123456789.eE+-", i);
        end = std::min(end, text.size());
        const std::string_view token = text.substr(i, end - i);
        out += token;
        if (token.size() > kSafe && token.find_first_of(".eE") == std::string_view::npos)
            out += ".0";
        i = end;
    }
    return out;
}
}  // namespace

// A feature a line (RFC 8142 with or without its marks): a line that cannot be read is left out and
// told.
Result<FeatureSourcePtr> openGeoJsonLines(const fs::path& path, const Progress& progress) {
    auto text = readText(path);
    if (!text) return text.error();
    if (text->starts_with("\xEF\xBB\xBF")) text->erase(0, 3);
    const std::size_t size = text->size();
    text->resize(size + simdjson::SIMDJSON_PADDING);
    dom::parser parser;
    FeatureList table;
    table.info.name = path.stem().string();
    JsonFeatures collector(table);
    std::size_t unusable = 0, bad = 0, firstBad = 0, line = 0;
    for (std::size_t at = 0; at < size;) {
        if (line++ % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(at) / static_cast<double>(size));
        }
        std::size_t end = text->find('\n', at);
        if (end == std::string::npos || end > size) end = size;
        std::size_t from = at;
        at = end + 1;
        while (from < end && ((*text)[from] == '\x1E' || (*text)[from] == ' ')) ++from;
        if (trimmed(std::string_view(*text).substr(from, end - from)).empty()) continue;
        dom::element feature;
        // Copied, because the parser reads on behind what it is given.
        const simdjson::padded_string one(text->data() + from, end - from);
        if (parser.parse(one).get(feature) != simdjson::SUCCESS || !feature.is_object()) {
            if (bad++ == 0) firstBad = line;
            continue;
        }
        const auto shape = member(feature, "geometry");
        auto geometry = shape ? geometryOf(*shape) : std::optional<Geometry>(Geometry{});
        if (!geometry) ++unusable;
        collector.add(geometry.value_or(Geometry{}), member(feature, "properties"),
                      member(feature, "id"));
    }
    if (table.features.empty())
        return badFormat(path, "no line of it is a feature", "choose another file");
    collector.takeIds();
    if (bad > 0)
        table.info.notes.push_back(std::to_string(bad) +
                                   " lines cannot be read, the first is line " +
                                   std::to_string(firstBad));
    if (unusable > 0)
        table.info.notes.push_back(std::to_string(unusable) +
                                   " features have a geometry that cannot be used");
    table.info.crs = *crs::crsFromCode(4326);
    return FeatureSourcePtr(std::make_shared<MemoryFeatures>(
        "GeoJSON lines", std::vector<FeatureTable>{std::move(table)}));
}

Result<FeatureSourcePtr> openGeoJson(const fs::path& path, const Progress& progress) {
    auto text = readText(path);
    if (!text) return text.error();
    if (progress.stopped()) return cancelled(nameOf(path));
    // A mark of the encoding is no part of the text.
    if (text->starts_with("\xEF\xBB\xBF")) text->erase(0, 3);
    dom::parser parser;
    dom::element root;
    const auto parse = [&] {
        const std::size_t size = text->size();
        text->resize(size + simdjson::SIMDJSON_PADDING);  // the parser reads a little beyond
        const auto outcome = parser.parse(text->data(), size, false).get(root);
        text->resize(size);
        return outcome;
    };
    auto problem = parse();
    if (problem == simdjson::NUMBER_ERROR) {
        *text = withoutLongNumbers(*text);
        problem = parse();
    }
    if (problem != simdjson::SUCCESS)
        return badFormat(path,
                         std::string("not readable as JSON: ") + simdjson::error_message(problem));
    progress.at(0.3);
    std::string_view type;
    if (root["type"].get(type) != simdjson::SUCCESS)
        return badFormat(path, "JSON, but not GeoJSON: it has no \"type\"", "choose another file");
    if (type == "Topology") return topologyOf(root, path, progress);
    FeatureList table;
    table.info.name = path.stem().string();
    JsonFeatures collector(table);
    std::size_t unusable = 0;
    const auto add = [&](const dom::element& feature) {
        if (!feature.is_object()) {
            ++unusable;
            return;
        }
        const auto shape = member(feature, "geometry");
        auto geometry = shape ? geometryOf(*shape) : std::optional<Geometry>(Geometry{});
        if (!geometry) ++unusable;
        collector.add(geometry.value_or(Geometry{}), member(feature, "properties"),
                      member(feature, "id"));
    };
    if (type == "FeatureCollection") {
        dom::array features;
        if (root["features"].get(features) != simdjson::SUCCESS)
            return badFormat(path, "a FeatureCollection without \"features\"");
        std::size_t done = 0;
        const auto count = static_cast<double>(std::max<std::size_t>(1, features.size()));
        for (const dom::element feature : features) {
            if (done++ % 1024 == 0) {
                if (progress.stopped()) return cancelled(nameOf(path));
                progress.at(std::min(1.0, 0.3 + 0.7 * static_cast<double>(done) / count));
            }
            add(feature);
        }
    } else if (type == "Feature") {
        add(root);
    } else {
        auto geometry = geometryOf(root);
        if (!geometry)
            return badFormat(
                path, "GeoJSON type \"" + std::string(type.substr(0, 40)) + "\" cannot be used",
                "only features and simple geometries can");
        collector.add(*std::move(geometry), {}, {});
    }
    collector.takeIds();
    if (unusable > 0)
        table.info.notes.push_back(std::to_string(unusable) +
                                   " features have a geometry that cannot be used");
    table.info.crs = namedCrs(root, table.info.notes);
    return FeatureSourcePtr(
        std::make_shared<MemoryFeatures>("GeoJSON", std::vector<FeatureTable>{std::move(table)}));
}

namespace {
std::string quoted(const std::string& text) {
    using Json = nlohmann::json;
    return Json(text).dump(-1, ' ', false, Json::error_handler_t::replace);
}

std::string valueText(const Value& value) {
    if (isMissing(value)) return "null";
    switch (typeOf(value)) {
    case FieldType::Text:
    case FieldType::Date:
    case FieldType::TimeStamp:
    case FieldType::Bytes: return quoted(exactText(value));
    case FieldType::Integer:
    case FieldType::Real:
    case FieldType::Boolean: break;
    }
    if (const auto* real = std::get_if<double>(&value); real && !std::isfinite(*real))
        return "null";
    return exactText(value);
}

std::string positions(std::span<const Point> points, std::span<const double> z) {
    std::string out = "[";
    for (std::size_t i = 0; i < points.size(); ++i) {
        out += (i > 0 ? ",[" : "[") + exactNumber(points[i].x) + "," + exactNumber(points[i].y);
        if (!z.empty() && std::isfinite(z[i])) out += "," + exactNumber(z[i]);
        out += "]";
    }
    return out + "]";
}
std::string positions(const GeometryView& g, std::size_t part) {
    return positions(g.part(part), g.ofPart(g.z, part));
}

std::string coordinates(const GeometryView& any) {
    const Geometry g = wound(any, false);  // right-hand rule: outer rings counter-clockwise
    if (g.type == GeometryType::Point) {
        const std::string all = positions(g.points, g.z);
        return g.isMulti ? all : all.substr(1, all.size() - 2);
    }
    if (g.type == GeometryType::Line) {
        std::string out;
        for (std::size_t i = 0; i < g.partCount(); ++i) out += (i > 0 ? "," : "") + positions(g, i);
        return g.isMulti ? "[" + out + "]" : out;
    }
    std::string out;
    std::size_t next = 0;
    for (std::size_t i = 0; i < g.partCount(); ++i) {
        const bool isOuter = next < g.polygons.size() && g.polygons[next] == i;
        if (isOuter) ++next;
        if (isOuter)
            out += i > 0 ? "],[" : "[";
        else
            out += ",";
        out += positions(g, i);
    }
    out += "]";
    return g.isMulti ? "[" + out + "]" : out;
}
}  // namespace

namespace {
// A feature a line; `between` stands behind all but the last.
void addFeatures(std::string& out, const FeatureTable& table, const char* between,
                 const Progress& progress) {
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return;
            progress.at(static_cast<double>(i) / static_cast<double>(table.size()));
        }
        const FeatureView f = table[i];
        out += "{\"type\":\"Feature\",\"id\":" + std::to_string(f.id) + ",\"properties\":{";
        for (std::size_t k = 0; k < table.info.fields.size(); ++k)
            out += (k > 0 ? "," : "") + quoted(table.info.fields[k].name) + ":" +
                   valueText(f.value(k));
        out += "},\"geometry\":";
        out += f.geometry.isEmpty() || !f.geometry.isFinite()
                   ? "null"
                   : "{\"type\":\"" + geometryTypeName(f.geometry.type, f.geometry.isMulti) +
                         "\",\"coordinates\":" + coordinates(f.geometry) + "}";
        out += i + 1 < table.size() ? std::string("}") + between + "\n" : "}\n";
    }
}

// Text in WGS 84, cut at the antimeridian as RFC 7946 wants.
Result<void> writeDegrees(const FeatureTable& table, FileSet& set, const Progress& progress,
                          std::string (*textOf)(const FeatureTable&, const Progress&)) {
    const fs::path& path = set.target();
    const auto write = [&](const FeatureTable& from) -> Result<void> {
        const std::string text = textOf(from, progress);
        if (progress.stopped()) return cancelled(nameOf(path));
        return fillFile(set.main(), text, path);
    };
    if (!table.info.crs) return write(table);
    auto moved = globe::reprojected(table, *crs::crsFromCode(4326), {0.1, true, false});
    if (!moved) return moved.error();
    return write(moved->table);
}
}  // namespace

std::string geoJsonText(const FeatureTable& table, const Progress& progress) {
    std::string out =
        "{\"type\":\"FeatureCollection\",\"name\":" + quoted(table.info.name) + ",\"features\":[\n";
    addFeatures(out, table, ",", progress);
    return out + "]}\n";
}

Result<void> writeGeoJson(const FeatureTable& table, FileSet& set, const Progress& progress) {
    return writeDegrees(table, set, progress, geoJsonText);
}

Result<void> writeGeoJsonLines(const FeatureTable& table, FileSet& set, const Progress& progress) {
    return writeDegrees(table, set, progress, [](const FeatureTable& from, const Progress& p) {
        std::string out;
        addFeatures(out, from, "", p);
        return out;
    });
}

}  // namespace ledge::io
