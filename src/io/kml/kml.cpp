#include "io/kml/kml.h"

#include <array>
#include <cmath>
#include <cstring>
#include <functional>
#include <map>

#include "core/base/colour.h"
#include "core/base/numbers.h"
#include "core/globe/reproject.h"
#include "io/files/atomic_file.h"
#include "io/memory_features.h"
#include "io/xml/xml.h"
#include "io/xml/xml_layers.h"
#include "io/zip/zip.h"

namespace ledge::io {
namespace {
namespace fs = std::filesystem;
constexpr int kDeepest = 100;  // folders within folders

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

// Colours stand as aabbggrr there.
std::string fromKmlColour(const std::string& text) {
    if (text.size() != 8) return {};
    const auto colour = parseColour("#" + text.substr(6, 2) + text.substr(4, 2) +
                                    text.substr(2, 2) + text.substr(0, 2));
    return colour ? colourText(*colour) : std::string();
}
std::string toKmlColour(const std::string& text) {
    const auto c = parseColour(text);
    if (!c) return {};
    std::array<char, 16> out{};
    std::snprintf(out.data(), out.size(), "%02x%02x%02x%02x", unsigned{c->a}, unsigned{c->b},
                  unsigned{c->g}, unsigned{c->r});
    return out.data();
}

using Values = std::vector<std::pair<std::string, std::string>>;

// A simple style as values: what lines and areas are painted with.
Values styleOf(const pugi::xml_node& style) {
    Values out;
    const auto put = [&](const char* field, const std::string& value) {
        if (!value.empty()) out.emplace_back(field, value);
    };
    const pugi::xml_node line = child(style, "LineStyle"), area = child(style, "PolyStyle");
    put("stroke", fromKmlColour(textOf(child(line, "color"))));
    put("stroke_width", textOf(child(line, "width")));
    if (textOf(child(area, "fill")) != "0")
        put("fill", fromKmlColour(textOf(child(area, "color"))));
    return out;
}

// Styles that placemarks share, by the names that they are referred to by.
void gatherStyles(const pugi::xml_node& node, std::map<std::string, Values>& styles, int depth) {
    if (depth > kDeepest) return;
    for (const pugi::xml_node& one : node.children()) {
        const std::string_view name = nameOfNode(one);
        const std::string id = attributeOf(one, "id");
        if (name == "Style" && !id.empty()) {
            styles["#" + id] = styleOf(one);
        } else if (name == "StyleMap" && !id.empty()) {
            for (const pugi::xml_node& pair : one.children())
                if (textOf(child(pair, "key")) == "normal")
                    if (const auto known = styles.find(textOf(child(pair, "styleUrl")));
                        known != styles.end())
                        styles["#" + id] = Values(known->second);
        } else if (name == "Document" || name == "Folder" || name == "kml") {
            gatherStyles(one, styles, depth + 1);
        }
    }
}

Values valuesOf(const pugi::xml_node& placemark, const std::map<std::string, Values>& styles) {
    Values out;
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
    if (const auto own = child(placemark, "Style")) {
        for (auto& value : styleOf(own)) out.push_back(std::move(value));
    } else if (const auto known = styles.find(textOf(child(placemark, "styleUrl")));
               known != styles.end()) {
        out.insert(out.end(), known->second.begin(), known->second.end());
    }
    std::erase_if(out, [](const auto& one) { return one.first.empty(); });
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

namespace {
Result<FeatureSourcePtr> placemarksOf(const std::string& text, const fs::path& path,
                                      const Progress& progress) {
    const auto document = xmlOf(text, path);
    if (!document) return document.error();
    std::map<std::string, Values> styles;
    gatherStyles(**document, styles, 0);
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
                const auto values = valuesOf(one, styles);
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

bool isOfStyle(const std::string& field) {
    return field == "stroke" || field == "stroke_width" || field == "fill";
}

// Columns by which lines and areas are painted, as they were read.
std::string styleText(const FeatureTable& table, std::size_t row) {
    const auto of = [&](const char* field) {
        const int at = table.fieldIndex(field);
        return at < 0 ? std::string() : exactText(table.value(row, static_cast<std::size_t>(at)));
    };
    const std::string stroke = toKmlColour(of("stroke")), fill = toKmlColour(of("fill"));
    const auto width = parseNumber(of("stroke_width"));
    std::string line, area;
    if (!stroke.empty()) line += "<color>" + stroke + "</color>";
    if (width && *width >= 0) line += "<width>" + exactNumber(*width) + "</width>";
    if (!fill.empty()) area = "<PolyStyle><color>" + fill + "</color></PolyStyle>";
    if (!line.empty()) line = "<LineStyle>" + line + "</LineStyle>";
    return line.empty() && area.empty() ? "" : "<Style>" + line + area + "</Style>";
}

// Errors: those of reprojecting; Cancelled.
Result<std::string> kmlText(const FeatureTable& table, const fs::path& path,
                            const Progress& progress) {
    FeatureTable there = table;
    if (table.info.crs) {
        auto moved =
            globe::reprojected(table, *crs::crsFromCode(4326), {0.1, true, false}, progress);
        if (!moved) return moved.error();
        there = std::move(moved->table);
    }
    const auto& fields = there.info.fields;
    int name = there.fieldIndex("name");
    for (std::size_t k = 0; name < 0 && k < fields.size(); ++k)
        if (fields[k].type == FieldType::Text) name = static_cast<int>(k);
    std::string out = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n"
                      "<kml xmlns=\"http://www.opengis.net/kml/2.2\"><Document>\n<Folder><name>" +
                      xmlText(there.info.name) + "</name>\n";
    for (std::size_t i = 0; i < there.size(); ++i) {
        if (i % 1024 == 0) {
            if (progress.stopped()) return cancelled(nameOf(path));
            progress.at(static_cast<double>(i) / static_cast<double>(there.size()));
        }
        out += "<Placemark>";
        if (name >= 0)
            out += "<name>" + xmlText(exactText(there.value(i, static_cast<std::size_t>(name)))) +
                   "</name>";
        out += styleText(there, i) + "<ExtendedData>";
        for (std::size_t k = 0; k < fields.size(); ++k) {
            if (static_cast<int>(k) == name && fields[k].name == "name") continue;
            if (isOfStyle(fields[k].name)) continue;
            if (there.isMissing(i, k)) continue;
            out += "<Data name=\"" + xmlText(fields[k].name) + "\"><value>" +
                   xmlText(exactText(there.value(i, k))) + "</value></Data>";
        }
        out += "</ExtendedData>" + shapeText(there.geometry(i)) + "</Placemark>\n";
    }
    return out + "</Folder>\n</Document></kml>\n";
}
}  // namespace

Result<FeatureSourcePtr> openKml(const fs::path& path, const Progress& progress) {
    const auto text = readText(path);
    if (!text) return text.error();
    return placemarksOf(*text, path, progress);
}

Result<FeatureSourcePtr> openKmz(const fs::path& path, const Progress& progress) {
    auto archive = ZipReader::open(path);
    if (!archive) return archive.error();
    // The first in it, as the standard has it.
    for (const std::string& name : (*archive)->names()) {
        if (!lowered(name).ends_with(".kml")) continue;
        const auto text = (*archive)->text(name);
        if (!text) return text.error();
        return placemarksOf(*text, path, progress);
    }
    return badFormat(path, "an archive without a .kml in it", "choose another file");
}

Result<void> writeKml(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const auto text = kmlText(table, set.target(), progress);
    if (!text) return text.error();
    return fillFile(set.main(), *text, set.target());
}

Result<void> writeKmz(const FeatureTable& table, FileSet& set, const Progress& progress) {
    const auto text = kmlText(table, set.target(), progress);
    if (!text) return text.error();
    return writeZip(set.main(), {{"doc.kml", *text}}, set.target());
}

}  // namespace ledge::io
