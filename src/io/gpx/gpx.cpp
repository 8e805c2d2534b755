#include "io/gpx/gpx.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "core/base/numbers.h"
#include "core/globe/reproject.h"
#include "io/files/atomic_file.h"
#include "io/memory_features.h"
#include "io/xml/xml.h"
#include "io/xml/xml_layers.h"

namespace ledge::io {
namespace fs = std::filesystem;

Result<FeatureSourcePtr> openGpx(const fs::path& path, const Progress& progress) {
    const auto document = xmlOf(path);
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
            if (name == "rtept" || name == "trkseg" || name == "link") continue;
            if (name == "extensions") {
                for (const pugi::xml_node& own : one.children())
                    if (!textOf(own).empty())
                        out.emplace_back(own.attribute("name") ? own.attribute("name").value()
                                                               : std::string(nameOfNode(own)),
                                         textOf(own));
                continue;
            }
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

namespace {
// Members that waypoints, routes and tracks all have, in the order of the schema.
constexpr std::array<std::string_view, 4> kPlain{"name", "cmt", "desc", "type"};

std::string valuesText(const FeatureTable& table, std::size_t row, const std::string& before) {
    std::string out, own;
    for (const std::string_view plain : kPlain) {
        const int field = table.fieldIndex(std::string(plain));
        if (field >= 0 && !table.isMissing(row, static_cast<std::size_t>(field)))
            out += "<" + std::string(plain) + ">" +
                   xmlText(exactText(table.value(row, static_cast<std::size_t>(field)))) + "</" +
                   std::string(plain) + ">";
    }
    for (std::size_t k = 0; k < table.info.fields.size(); ++k) {
        const std::string& name = table.info.fields[k].name;
        if (table.isMissing(row, k) ||
            std::find(kPlain.begin(), kPlain.end(), name) != kPlain.end())
            continue;
        own += "<ledge:value name=\"" + xmlText(name) + "\">" +
               xmlText(exactText(table.value(row, k))) + "</ledge:value>";
    }
    return before + out + (own.empty() ? own : "<extensions>" + own + "</extensions>");
}

std::string placeText(const char* element, Point p, double height) {
    return std::string("<") + element + " lat=\"" + exactNumber(p.y) + "\" lon=\"" +
           exactNumber(p.x) + "\">" +
           (std::isnan(height) ? std::string() : "<ele>" + exactNumber(height) + "</ele>");
}
}  // namespace

std::vector<std::string> limitsOfGpx(const FeatureTable& table) {
    std::vector<std::string> out;
    if (table.info.hasM) out.push_back("measures (M) are left out");
    if (table.info.geometry == GeometryType::Polygon) out.push_back("it holds no areas");
    for (const Field& field : table.info.fields)
        if (field.name == "link" || field.name == "rtept" || field.name == "trkseg")
            out.push_back("a field called " + field.name + " is read as a part of tracks");
    return out;
}

Result<void> writeGpx(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const fs::path& path = set.target();
    FeatureTable there = table;
    if (table.info.crs) {
        auto moved =
            globe::reprojected(table, *crs::crsFromCode(4326), {0.1, true, false}, progress);
        if (!moved) return moved.error();
        there = std::move(moved->table);
    }
    std::string waypoints, tracks;
    for (std::size_t i = 0; i < there.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(i) / static_cast<double>(there.size()));
        }
        const GeometryView g = there.geometry(i);
        if (g.isEmpty()) continue;
        if (g.type == GeometryType::Polygon)
            return Error{ErrorCode::Unsupported, nameOf(path),
                         "it holds waypoints and tracks, no areas",
                         "write a GeoPackage or KML instead, or derive their boundaries first"};
        if (g.type == GeometryType::Point) {
            for (std::size_t k = 0; k < g.points.size(); ++k)
                waypoints += placeText("wpt", g.points[k], g.z.empty() ? kNaN : g.z[k]) +
                             valuesText(there, i, "") + "</wpt>\n";
            continue;
        }
        tracks += "<trk>" + valuesText(there, i, "");
        for (std::size_t p = 0; p < g.partCount(); ++p) {
            const auto points = g.part(p);
            const auto z = g.ofPart(g.z, p);
            tracks += "<trkseg>";
            for (std::size_t k = 0; k < points.size(); ++k)
                tracks += placeText("trkpt", points[k], z.empty() ? kNaN : z[k]) + "</trkpt>";
            tracks += "</trkseg>";
        }
        tracks += "</trk>\n";
    }
    return fillFile(set.main(),
                    "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<gpx version=\"1.1\" "
                    "creator=\"Indigo Ledge\" xmlns=\"http://www.topografix.com/GPX/1/1\" "
                    "xmlns:ledge=\"urn:indigo-ledge:values\">\n" +
                        waypoints + tracks + "</gpx>\n",
                    path);
}

}  // namespace ledge::io
