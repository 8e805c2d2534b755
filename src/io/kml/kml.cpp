#include "io/kml/kml.h"

#include <array>
#include <cmath>
#include <cstring>
#include <functional>
#include <pugixml.hpp>

#include "core/base/numbers.h"
#include "core/globe/reproject.h"
#include "io/files/atomic_file.h"
#include "io/kml/xml_layers.h"
#include "io/memory_features.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr int kDeepest = 100;  // folders within folders

// Names without their prefix.
std::string_view nameOfNode(const pugi::xml_node& node) {
    const std::string_view name = node.name();
    const auto colon = name.rfind(':');
    return colon == std::string_view::npos ? name : name.substr(colon + 1);
}
pugi::xml_node child(const pugi::xml_node& node, std::string_view name) {
    for (const pugi::xml_node& one : node.children())
        if (nameOfNode(one) == name) return one;
    return {};
}
std::string textOf(const pugi::xml_node& node) { return trimmed(node.text().get()); }

Result<std::shared_ptr<pugi::xml_document>> documentOf(const fs::path& path) {
    auto text = readText(path);
    if (!text) return text.error();
    auto out = std::make_shared<pugi::xml_document>();
    const auto read = out->load_buffer(text->data(), text->size());
    if (!read)
        return badFormat(path, std::string(read.description()) + " at byte " +
                                   std::to_string(read.offset));
    return out;
}

// "lon,lat[,height] lon,lat …" into a part of a shape; false without a place.
bool addCoordinates(const std::string& text, Geometry& out) {
    std::size_t at = 0;
    const std::size_t before = out.points.size();
    const auto isBlank = [](char c) { return std::strchr(" \t\r\n", c) != nullptr; };
    while (at < text.size()) {
        while (at < text.size() && isBlank(text[at])) ++at;
        std::size_t end = at;
        while (end < text.size() && !isBlank(text[end])) ++end;
        if (end == at) break;
        std::array<double, 3> xyz{0, 0, kNaN};
        std::size_t count = 0;
        for (std::size_t from = at; from <= end && count < 3; ++count) {
            std::size_t comma = text.find(',', from);
            if (comma == std::string::npos || comma > end) comma = end;
            const auto number = parseNumber(text.substr(from, comma - from));
            if (!number || !std::isfinite(*number)) break;
            xyz[count] = *number;
            from = comma + 1;
        }
        at = end;
        if (count < 2) continue;
        out.points.push_back({xyz[0], xyz[1]});
        if (count > 2 || !out.z.empty()) {
            out.z.resize(out.points.size(), kNaN);
            out.z.back() = xyz[2];
        }
    }
    return out.points.size() > before;
}

// The shapes of a placemark, those of a kind together.
void gatherShapes(const pugi::xml_node& node, std::vector<Geometry>& out, int depth) {
    if (depth > kDeepest) return;
    const auto of = [&](GeometryType type) -> Geometry& {
        for (Geometry& one : out)
            if (one.type == type) {
                one.isMulti = true;
                return one;
            }
        out.emplace_back().type = type;
        return out.back();
    };
    const auto ringOf = [](const pugi::xml_node& boundary) {
        return child(child(boundary, "LinearRing"), "coordinates");
    };
    const std::string_view name = nameOfNode(node);
    if (name == "Point" || name == "LineString" || name == "LinearRing") {
        Geometry one;
        one.beginPart();
        if (!addCoordinates(textOf(child(node, "coordinates")), one)) return;
        if (name != "Point" && one.points.size() < 2) return;
        of(name == "Point" ? GeometryType::Point : GeometryType::Line).addPart(one, 0);
    } else if (name == "Polygon") {
        Geometry rings;
        rings.type = GeometryType::Polygon;
        bool isOuter = true;
        const auto add = [&](const pugi::xml_node& boundary) {
            Geometry ring;
            ring.beginPart();
            addCoordinates(textOf(ringOf(boundary)), ring);
            if (ring.points.size() < 3) return;
            if (ring.points.front() != ring.points.back()) {
                ring.points.push_back(Point(ring.points.front()));
                if (!ring.z.empty()) ring.z.push_back(double(ring.z.front()));
            }
            rings.addPart(ring, 0, isOuter);
            isOuter = false;
        };
        add(child(node, "outerBoundaryIs"));
        if (isOuter) return;
        for (const pugi::xml_node& one : node.children())
            if (nameOfNode(one) == "innerBoundaryIs") add(one);
        Geometry& area = of(GeometryType::Polygon);
        for (std::size_t i = 0; i < rings.partCount(); ++i) area.addPart(rings, i, i == 0);
    } else if (name == "MultiGeometry" || name == "Placemark") {
        for (const pugi::xml_node& one : node.children()) gatherShapes(one, out, depth + 1);
    }
}

std::vector<std::pair<std::string, std::string>> valuesOf(const pugi::xml_node& placemark) {
    std::vector<std::pair<std::string, std::string>> out;
    for (const char* plain : {"name", "description"})
        if (const auto node = child(placemark, plain)) out.emplace_back(plain, textOf(node));
    const pugi::xml_node stamp = child(child(placemark, "TimeStamp"), "when");
    if (stamp) out.emplace_back("when", textOf(stamp));
    const pugi::xml_node extended = child(placemark, "ExtendedData");
    for (const pugi::xml_node& one : extended.children()) {
        if (nameOfNode(one) == "Data")
            out.emplace_back(one.attribute("name").value(), textOf(child(one, "value")));
        if (nameOfNode(one) == "SchemaData")
            for (const pugi::xml_node& simple : one.children())
                out.emplace_back(simple.attribute("name").value(), textOf(simple));
    }
    std::erase_if(out, [](const auto& one) { return one.first.empty(); });
    return out;
}

std::string escaped(const std::string& text) {
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '&': out += "&amp;"; break;
        case '<': out += "&lt;"; break;
        case '>': out += "&gt;"; break;
        case '"': out += "&quot;"; break;
        default:
            // What no XML may hold.
            if (static_cast<unsigned char>(c) >= 0x20 || c == '\t' || c == '\n') out += c;
        }
    }
    return out;
}

std::string coordinatesText(const GeometryView& g, std::size_t part) {
    std::string out = "<coordinates>";
    const auto points = g.part(part);
    const auto z = g.ofPart(g.z, part);
    for (std::size_t i = 0; i < points.size(); ++i) {
        out += (i > 0 ? " " : "") + exactNumber(points[i].x) + "," + exactNumber(points[i].y);
        if (!z.empty() && !std::isnan(z[i])) out += "," + exactNumber(z[i]);
    }
    return out + "</coordinates>";
}

std::string shapeText(const GeometryView& g) {
    std::string out;
    std::size_t wholes = 0;
    if (g.type == GeometryType::Polygon) {
        for (std::size_t p = 0; p < g.polygons.size(); ++p, ++wholes) {
            const std::size_t end = p + 1 < g.polygons.size() ? g.polygons[p + 1] : g.partCount();
            out += "<Polygon>";
            for (std::size_t i = g.polygons[p]; i < end; ++i) {
                const char* boundary = i == g.polygons[p] ? "outerBoundaryIs" : "innerBoundaryIs";
                out += std::string("<") + boundary + "><LinearRing>" + coordinatesText(g, i) +
                       "</LinearRing></" + boundary + ">";
            }
            out += "</Polygon>";
        }
    } else {
        const char* name = g.type == GeometryType::Point ? "Point" : "LineString";
        for (std::size_t i = 0; i < g.partCount(); ++i, ++wholes)
            out += std::string("<") + name + ">" + coordinatesText(g, i) + "</" + name + ">";
    }
    return wholes > 1 ? "<MultiGeometry>" + out + "</MultiGeometry>" : out;
}
}  // namespace

Result<FeatureSourcePtr> openKml(const fs::path& path, const Progress& progress) {
    const auto document = documentOf(path);
    if (!document) return document.error();
    XmlLayers layers;
    std::size_t parted = 0, without = 0;
    const std::function<void(const pugi::xml_node&, const std::string&, int)> walk =
        [&](const pugi::xml_node& node, const std::string& layer, int depth) {
            if (depth > kDeepest || progress.stopped()) return;
            for (const pugi::xml_node& one : node.children()) {
                const std::string_view name = nameOfNode(one);
                if (name == "Folder" || name == "Document") {
                    const std::string called = textOf(child(one, "name"));
                    walk(one, name == "Document" || called.empty() ? layer : called, depth + 1);
                    continue;
                }
                if (name == "kml") {
                    walk(one, layer, depth + 1);
                    continue;
                }
                if (name != "Placemark") continue;
                std::vector<Geometry> shapes;
                gatherShapes(one, shapes, 0);
                if (shapes.empty()) ++without, shapes.emplace_back();
                if (shapes.size() > 1) ++parted;
                const auto values = valuesOf(one);
                for (Geometry& shape : shapes) layers.add(layer, std::move(shape), values);
            }
        };
    walk(**document, path.stem().string(), 0);
    if (progress.stopped()) return cancelled(nameOf(path));
    if (layers.isEmpty())
        return badFormat(path, "holds no placemarks", "choose a file with placemarks");
    auto tables = layers.finish();
    if (parted > 0)
        tables.front().info.notes.push_back(formatNumber(static_cast<double>(parted)) +
                                            " placemarks with shapes of several kinds are parted");
    if (without > 0)
        tables.front().info.notes.push_back(formatNumber(static_cast<double>(without)) +
                                            " placemarks have no shape that can be used");
    return FeatureSourcePtr(std::make_shared<MemoryFeatures>("KML", std::move(tables)));
}

Result<void> writeKml(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    FeatureTable there = table;
    if (table.info.crs) {
        auto moved = globe::reprojected(table, *crs::crsFromCode(4326), {0.1, true, false});
        if (!moved) return moved.error();
        there = std::move(moved->table);
    }
    const auto& fields = there.info.fields;
    int name = there.fieldIndex("name");
    for (std::size_t k = 0; name < 0 && k < fields.size(); ++k)
        if (fields[k].type == FieldType::Text) name = static_cast<int>(k);
    std::string out = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                      "<kml xmlns=\"http://www.opengis.net/kml/2.2\"><Document>\n<Folder><name>" +
                      escaped(there.info.name) + "</name>\n";
    for (std::size_t i = 0; i < there.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(i) / static_cast<double>(there.size()));
        }
        out += "<Placemark>";
        if (name >= 0)
            out += "<name>" + escaped(exactText(there.value(i, static_cast<std::size_t>(name)))) +
                   "</name>";
        out += "<ExtendedData>";
        for (std::size_t k = 0; k < fields.size(); ++k) {
            if (static_cast<int>(k) == name && fields[k].name == "name") continue;
            if (there.isMissing(i, k)) continue;
            out += "<Data name=\"" + escaped(fields[k].name) + "\"><value>" +
                   escaped(exactText(there.value(i, k))) + "</value></Data>";
        }
        out += "</ExtendedData>" + shapeText(there.geometry(i)) + "</Placemark>\n";
    }
    out += "</Folder>\n</Document></kml>\n";
    return fillFile(set.main(), out, path);
}

Result<FeatureSourcePtr> openGpx(const fs::path& path, const Progress& progress) {
    const auto document = documentOf(path);
    if (!document) return document.error();
    const pugi::xml_node root = child(**document, "gpx");
    if (!root) return badFormat(path, "XML, but not GPX", "choose another file");
    XmlLayers layers;
    const auto put = [](const pugi::xml_node& node, Geometry& out) {
        const auto lon = parseNumber(node.attribute("lon").value()),
                   lat = parseNumber(node.attribute("lat").value());
        if (!lon || !lat || !std::isfinite(*lon) || !std::isfinite(*lat)) return;
        out.points.push_back({*lon, *lat});
        const auto height = parseNumber(textOf(child(node, "ele")));
        if (height || !out.z.empty()) {
            out.z.resize(out.points.size(), kNaN);
            out.z.back() = height.value_or(kNaN);
        }
    };
    const auto values = [](const pugi::xml_node& node) {
        std::vector<std::pair<std::string, std::string>> out;
        for (const pugi::xml_node& one : node.children()) {
            const std::string name(nameOfNode(one));
            // Members of their own are no values.
            if (name == "rtept" || name == "trkseg" || name == "extensions" || name == "link")
                continue;
            if (!textOf(one).empty()) out.emplace_back(name, textOf(one));
        }
        return out;
    };
    for (const pugi::xml_node& node : root.children()) {
        if (progress.stopped()) return cancelled(nameOf(path));
        const std::string_view name = nameOfNode(node);
        Geometry shape;
        if (name == "wpt") {
            shape.type = GeometryType::Point;
            shape.beginPart();
            put(node, shape);
            if (shape.points.empty()) shape = {};
            layers.add("waypoints", std::move(shape), values(node));
        } else if (name == "rte" || name == "trk") {
            shape.type = GeometryType::Line;
            const auto part = [&](const pugi::xml_node& parent, std::string_view member) {
                Geometry line;
                line.beginPart();
                for (const pugi::xml_node& one : parent.children())
                    if (nameOfNode(one) == member) put(one, line);
                if (line.points.size() > 1) shape.addPart(line, 0);
            };
            if (name == "rte") part(node, "rtept");
            for (const pugi::xml_node& one : node.children())
                if (nameOfNode(one) == "trkseg") part(one, "trkpt");
            shape.isMulti = shape.partCount() > 1;
            if (shape.isEmpty()) shape = {};
            layers.add(name == "rte" ? "routes" : "tracks", std::move(shape), values(node));
        }
    }
    if (layers.isEmpty())
        return badFormat(path, "holds no waypoints, routes or tracks", "choose another file");
    return FeatureSourcePtr(std::make_shared<MemoryFeatures>("GPX", layers.finish()));
}

}  // namespace ledge::io
