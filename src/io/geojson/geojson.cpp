#include "io/geojson/geojson.h"

#include <nlohmann/json.hpp>

#include "core/base/numbers.h"
#include "core/feature/reproject.h"
#include "core/geometry/measure.h"
#include "io/files/atomic_file.h"
#include "io/memory_features.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
using Json = nlohmann::ordered_json;

bool addPosition(const Json& json, Geometry& out) {
    if (!json.is_array() || json.size() < 2 || !json[0].is_number() || !json[1].is_number())
        return false;
    out.points.push_back({json[0].get<double>(), json[1].get<double>()});
    const bool hasZ = json.size() > 2 && json[2].is_number();
    if (hasZ || !out.z.empty()) {
        out.z.resize(out.points.size() - 1, std::nan(""));
        out.z.push_back(hasZ ? json[2].get<double>() : std::nan(""));
    }
    return true;
}

bool addPositions(const Json& json, Geometry& out) {
    if (!json.is_array()) return false;
    return std::all_of(json.begin(), json.end(),
                       [&](const Json& p) { return addPosition(p, out); });
}

bool addRings(const Json& json, Geometry& out) {
    if (!json.is_array()) return false;
    bool isOuter = true;
    for (const Json& ring : json) {
        out.beginPart(isOuter);
        if (!addPositions(ring, out)) return false;
        isOuter = false;
    }
    return true;
}

// Empty optional: not a geometry. Collections are not supported and say so.
std::optional<Geometry> geometryOf(const Json& json) {
    Geometry out;
    if (json.is_null()) return out;
    if (!json.is_object() || !json.contains("type") || !json["type"].is_string()) return {};
    const std::string type = json["type"];
    const Json coordinates = json.value("coordinates", Json());
    const bool isMulti = out.isMulti = type.starts_with("Multi");
    const std::string base = isMulti ? type.substr(5) : type;
    if (!coordinates.is_array()) return {};
    bool good = false;
    if (base == "Point") {
        out.type = GeometryType::Point;
        if (coordinates.empty()) return Geometry{};
        const auto add = [&](const Json& p) {
            out.beginPart();
            return addPosition(p, out);
        };
        good =
            isMulti ? std::all_of(coordinates.begin(), coordinates.end(), add) : add(coordinates);
    } else if (base == "LineString") {
        out.type = GeometryType::Line;
        const auto add = [&](const Json& line) {
            out.beginPart();
            return addPositions(line, out);
        };
        good =
            isMulti ? std::all_of(coordinates.begin(), coordinates.end(), add) : add(coordinates);
    } else if (base == "Polygon") {
        out.type = GeometryType::Polygon;
        const auto add = [&](const Json& rings) { return addRings(rings, out); };
        good =
            isMulti ? std::all_of(coordinates.begin(), coordinates.end(), add) : add(coordinates);
    }
    if (!good) return {};
    return out;
}

Value valueOf(const Json& json) {
    if (json.is_boolean()) return json.get<bool>();
    if (json.is_number_unsigned() && json.get<std::uint64_t>() > INT64_MAX)
        return json.get<double>();
    if (json.is_number_integer()) return json.get<std::int64_t>();
    if (json.is_number()) return json.get<double>();
    if (json.is_string()) return json.get<std::string>();
    if (json.is_null()) return {};
    return json.dump();
}

// Gathers fields as they come; mixed whole and real numbers become real, other mixtures text.
class Collector {
public:
    explicit Collector(FeatureList& table) : m_table(table) {}

    void add(Geometry geometry, const Json& properties, const Json& id = {}) {
        Feature feature{static_cast<FeatureKey>(m_table.features.size()), std::move(geometry), {}};
        if (id.is_number_integer()) m_ids.push_back(id.get<FeatureKey>());
        if (properties.is_object()) {
            for (const auto& [name, json] : properties.items()) {
                const Value value = valueOf(json);
                const std::size_t field = fieldFor(name, value);
                if (feature.values.size() <= field) feature.values.resize(field + 1);
                feature.values[field] = value;
            }
        }
        m_table.features.push_back(std::move(feature));
    }

    /// Whole numbers that name each feature by itself are its keys; else its place is.
    void takeIds() {
        if (m_ids.size() != m_table.features.size()) return;
        auto sorted = m_ids;
        std::sort(sorted.begin(), sorted.end());
        if (std::adjacent_find(sorted.begin(), sorted.end()) != sorted.end()) return;
        for (std::size_t i = 0; i < m_ids.size(); ++i) m_table.features[i].id = m_ids[i];
    }

private:
    std::size_t fieldFor(const std::string& name, const Value& value) {
        const auto [it, isNew] = m_fields.try_emplace(name, m_table.info.fields.size());
        if (isNew) m_table.info.fields.push_back({name, typeOf(value)}), m_known.push_back(false);
        FieldType& type = m_table.info.fields[it->second].type;
        if (isMissing(value)) return it->second;
        const FieldType now = typeOf(value);
        if (!m_known[it->second])
            type = now;
        else
            type = widerType(type, now);
        m_known[it->second] = true;
        return it->second;
    }
    FeatureList& m_table;
    std::map<std::string, std::size_t> m_fields;
    std::vector<bool> m_known;
    std::vector<FeatureKey> m_ids;
};

crs::CrsPtr namedCrs(const Json& root, std::vector<std::string>& notes) {
    const auto wgs84 = crs::crsFromCode(4326);
    if (!root.contains("crs") || !root["crs"].is_object()) return *wgs84;
    const std::string name = root["crs"].value("properties", Json::object()).value("name", "");
    const auto found = crs::parseCrs(name);
    if (found && *found) return *found;
    if (name.empty()) return *wgs84;
    notes.push_back("its CRS \"" + name + "\" is not built in; declare it from its WKT text");
    return {};
}

struct Stopped {};

// The text while it is parsed: tells how far that is, and ends it by throwing Stopped.
class WatchedText {
public:
    using iterator_category = std::input_iterator_tag;
    using value_type = char;
    using difference_type = std::ptrdiff_t;
    using pointer = const char*;
    using reference = const char&;

    WatchedText(const std::string& text, std::size_t at, const Progress& progress)
        : m_text(&text), m_at(at), m_progress(&progress) {}
    reference operator*() const { return (*m_text)[m_at]; }
    WatchedText& operator++() {
        constexpr std::size_t kBatch = std::size_t{1} << 18;
        if (++m_at % kBatch == 0) {
            if (m_progress->stopped()) throw Stopped();
            m_progress->at(static_cast<double>(m_at) / static_cast<double>(m_text->size()));
        }
        return *this;
    }
    void operator++(int) { ++*this; }
    bool operator==(const WatchedText& other) const { return m_at == other.m_at; }

private:
    const std::string* m_text;
    std::size_t m_at;
    const Progress* m_progress;
};
}  // namespace

Result<FeatureSourcePtr> openGeoJson(const fs::path& path, const Progress& progress) {
    const auto text = readText(path);
    if (!text) return text.error();
    Json root;
    try {
        const Progress parsing = progress.part(0, 0.7);
        root =
            Json::parse(WatchedText(*text, 0, parsing), WatchedText(*text, text->size(), parsing));
    } catch (const Stopped&) {
        return cancelled(nameOf(path));
    } catch (const nlohmann::json::exception& problem) {
        std::string why = problem.what();
        if (const auto at = why.find("] "); at != std::string::npos) why = why.substr(at + 2);
        return badFormat(path, "not readable as JSON: " + why.substr(0, 160));
    }
    if (!root.is_object() || !root.contains("type") || !root["type"].is_string())
        return badFormat(path, "JSON, but not GeoJSON: it has no \"type\"", "choose another file");
    FeatureList table;
    table.info.name = path.stem().string();
    Collector collector(table);
    std::size_t unusable = 0;
    const auto add = [&](const Json& feature) {
        if (!feature.is_object()) {
            ++unusable;
            return;
        }
        auto geometry = geometryOf(feature.value("geometry", Json()));
        if (!geometry) ++unusable;
        collector.add(geometry.value_or(Geometry{}), feature.value("properties", Json()),
                      feature.value("id", Json()));
    };
    const std::string type = root["type"];
    if (type == "FeatureCollection") {
        if (!root.contains("features") || !root["features"].is_array())
            return badFormat(path, "a FeatureCollection without \"features\"");
        const auto& features = root["features"];
        for (std::size_t i = 0; i < features.size(); ++i) {
            if (i % 1024 == 0) {
                if (progress.stopped()) return cancelled(nameOf(path));
                progress.at(0.7 +
                            0.3 * static_cast<double>(i) / static_cast<double>(features.size()));
            }
            add(features[i]);
        }
    } else if (type == "Feature") {
        add(root);
    } else {
        auto geometry = geometryOf(root);
        if (!geometry)
            return badFormat(path, "GeoJSON type \"" + type.substr(0, 40) + "\" cannot be used",
                             "only features and simple geometries can");
        collector.add(*std::move(geometry), Json());
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

std::string geoJsonText(const FeatureTable& table, const Progress& progress) {
    std::string out =
        "{\"type\":\"FeatureCollection\",\"name\":" + quoted(table.info.name) + ",\"features\":[\n";
    for (std::size_t i = 0; i < table.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return out;
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
        out += i + 1 < table.size() ? "},\n" : "}\n";
    }
    return out + "]}\n";
}

Result<void> writeGeoJson(const FeatureTable& table, const fs::path& path,
                          const Progress& progress) {
    const auto write = [&](const FeatureTable& from) -> Result<void> {
        const std::string text = geoJsonText(from, progress);
        if (progress.stopped()) return cancelled(nameOf(path));
        return writeText(path, text);
    };
    if (!table.info.crs) return write(table);
    auto moved = reprojected(table, *crs::crsFromCode(4326));
    if (!moved) return moved.error();
    return write(*moved);
}

}  // namespace ledge::io
