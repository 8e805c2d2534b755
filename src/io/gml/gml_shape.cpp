#include "io/gml/gml_shape.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <cstring>

#include "core/base/numbers.h"
#include "core/geometry/arcs.h"
#include "io/xml/xml.h"

namespace ledge::io {
namespace {
constexpr int kDeepestShape = 40;

struct Word {
    std::string_view name;
    GeometryType type;
    bool isMulti;
};
constexpr std::array<Word, 15> kShapes{{{"Point", GeometryType::Point, false},
                                        {"LineString", GeometryType::Line, false},
                                        {"LinearRing", GeometryType::Line, false},
                                        {"Curve", GeometryType::Line, false},
                                        {"CompositeCurve", GeometryType::Line, false},
                                        {"OrientableCurve", GeometryType::Line, false},
                                        {"Polygon", GeometryType::Polygon, false},
                                        {"Surface", GeometryType::Polygon, false},
                                        {"CompositeSurface", GeometryType::Polygon, true},
                                        {"PolyhedralSurface", GeometryType::Polygon, true},
                                        {"MultiPoint", GeometryType::Point, true},
                                        {"MultiLineString", GeometryType::Line, true},
                                        {"MultiCurve", GeometryType::Line, true},
                                        {"MultiPolygon", GeometryType::Polygon, true},
                                        {"MultiSurface", GeometryType::Polygon, true}}};
const Word* wordOf(const pugi::xml_node& node) {
    const auto name = nameOfNode(node);
    const auto* it = std::find_if(kShapes.begin(), kShapes.end(),
                                  [&](const Word& word) { return word.name == name; });
    return it == kShapes.end() ? nullptr : it;
}

// Points with their heights as they are gathered.
struct Path {
    std::vector<Point> points;
    std::vector<double> z;
};

class ShapeReader {
public:
    GmlShape out;

    void read(const pugi::xml_node& node, int dimension, int depth) {
        if (depth > kDeepestShape) return;
        if (out.crsName.empty()) out.crsName = attributeOf(node, "srsName");
        if (const auto own = parseNumber(attributeOf(node, "srsDimension")))
            dimension = *own == 3 ? 3 : 2;
        const std::string_view name = nameOfNode(node);
        if (name == "Point") {
            Path at;
            positions(node, dimension, at);
            if (!at.points.empty()) add(at, GeometryType::Point, false, 1);
        } else if (name == "Polygon" || name == "PolygonPatch" || name == "Rectangle" ||
                   name == "Triangle") {
            polygon(node, dimension, depth);
        } else if (const Word* word = wordOf(node);
                   word && !word->isMulti && word->type == GeometryType::Line) {
            Path path;
            curve(node, dimension, path, depth);
            if (path.points.size() > 1) add(path, GeometryType::Line, false, path.points.size());
        } else {  // members, patches and their like
            for (const pugi::xml_node& one : node.children()) read(one, dimension, depth + 1);
        }
    }

private:
    void add(const Path& path, GeometryType type, bool isOuter, std::size_t count) {
        Geometry& g = out.geometry;
        if (g.type == GeometryType::None) g.type = type;
        if (g.type != type) return;
        g.beginPart(isOuter);
        const bool hasZ = !path.z.empty() || !g.z.empty();
        for (std::size_t i = 0; i < std::min(count, path.points.size()); ++i) {
            g.points.push_back(path.points[i]);
            if (!hasZ) continue;
            g.z.resize(g.points.size(), kNaN);
            g.z.back() = i < path.z.size() ? path.z[i] : kNaN;
        }
    }

    void polygon(const pugi::xml_node& node, int dimension, int depth) {
        bool isOuter = true;
        const auto ring = [&](const pugi::xml_node& boundary) {
            Path path;
            for (const pugi::xml_node& one : boundary.children())
                curve(one, dimension, path, depth + 1);
            if (path.points.size() < 3) return;
            if (path.points.front() != path.points.back()) {
                path.points.push_back(Point(path.points.front()));
                if (!path.z.empty()) path.z.push_back(double(path.z.front()));
            }
            add(path, GeometryType::Polygon, isOuter, path.points.size());
            isOuter = false;
        };
        for (const pugi::xml_node& one : node.children())
            if (nameOfNode(one) == "exterior" || nameOfNode(one) == "outerBoundaryIs") ring(one);
        if (isOuter) return;
        for (const pugi::xml_node& one : node.children())
            if (nameOfNode(one) == "interior" || nameOfNode(one) == "innerBoundaryIs") ring(one);
    }

    // Lines, rings, curves and their segments, one after another.
    void curve(const pugi::xml_node& node, int dimension, Path& path, int depth) {
        if (depth > kDeepestShape) return;
        if (const auto own = parseNumber(attributeOf(node, "srsDimension")))
            dimension = *own == 3 ? 3 : 2;
        const std::string_view name = nameOfNode(node);
        if (name == "LineString" || name == "LinearRing" || name == "LineStringSegment") {
            Path own;
            positions(node, dimension, own);
            join(path, own);
        } else if (name == "Arc" || name == "ArcString" || name == "Circle") {
            Path own;
            positions(node, dimension, own);
            if (own.points.size() < 3) return;
            out.isCurved = true;
            std::vector<Point> along{own.points.front()};
            if (name == "Circle") {
                addArcThrough(along, own.points[0], own.points[1], own.points[2]);
                addArcThrough(along, own.points[2], opposite(own.points), own.points[0]);
            } else {
                for (std::size_t i = 0; i + 2 < own.points.size(); i += 2)
                    addArcThrough(along, own.points[i], own.points[i + 1], own.points[i + 2]);
            }
            join(path, {std::move(along), {}});
        } else if (name == "OrientableCurve" && attributeOf(node, "orientation") == "-") {
            Path own;
            for (const pugi::xml_node& one : node.children()) curve(one, dimension, own, depth + 1);
            std::reverse(own.points.begin(), own.points.end());
            std::reverse(own.z.begin(), own.z.end());
            join(path, own);
        } else {
            for (const pugi::xml_node& one : node.children())
                curve(one, dimension, path, depth + 1);
        }
    }

    // Another point of the circle through three, on the way from the third to the first.
    static Point opposite(const std::vector<Point>& p) {
        const Point u = p[1] - p[0], v = p[2] - p[0];
        const double cross = u.x * v.y - u.y * v.x;
        const double uu = u.x * u.x + u.y * u.y, vv = v.x * v.x + v.y * v.y;
        if (cross == 0) return p[1];
        const Point c{p[0].x + (v.y * uu - u.y * vv) / (2 * cross),
                      p[0].y + (u.x * vv - v.x * uu) / (2 * cross)};
        return {2 * c.x - p[1].x, 2 * c.y - p[1].y};
    }

    static void join(Path& path, const Path& more) {
        const bool meets = !path.points.empty() && !more.points.empty() &&
                           path.points.back() == more.points.front();
        const std::size_t from = meets ? 1 : 0;
        const bool hasZ = !path.z.empty() || !more.z.empty();
        for (std::size_t i = from; i < more.points.size(); ++i) {
            path.points.push_back(more.points[i]);
            if (!hasZ) continue;
            path.z.resize(path.points.size(), kNaN);
            path.z.back() = i < more.z.size() ? more.z[i] : kNaN;
        }
    }

    // pos, posList, coordinates (GML 2: "x,y x,y") or a pointProperty each.
    void positions(const pugi::xml_node& node, int dimension, Path& path) {
        for (const pugi::xml_node& one : node.children()) {
            const std::string_view name = nameOfNode(one);
            int own = dimension;
            if (const auto said = parseNumber(attributeOf(one, "srsDimension")))
                own = *said == 3 ? 3 : 2;
            if (name == "pos") {
                const auto numbers = numbersIn(one.text().get(), false);
                if (numbers.size() < 2) continue;
                put(path, numbers[0], numbers[1], numbers.size() > 2 ? numbers[2] : kNaN);
            } else if (name == "posList" || name == "coordinates") {
                const bool isOld = name == "coordinates";
                std::string text = one.text().get();
                if (isOld) own = dimensionOf(text);
                const auto numbers = numbersIn(text, isOld);
                const auto step = static_cast<std::size_t>(own);
                for (std::size_t i = 0; i + step <= numbers.size(); i += step)
                    put(path, numbers[i], numbers[i + 1], step > 2 ? numbers[i + 2] : kNaN);
            } else if (name == "pointProperty" || name == "pointRep" || name == "Point") {
                positions(name == "Point" ? one : child(one, "Point"), own, path);
            }
        }
    }
    static int dimensionOf(const std::string& coordinates) {
        const auto first = coordinates.find_first_not_of(" \t\r\n");
        if (first == std::string::npos) return 2;
        const auto end = coordinates.find_first_of(" \t\r\n", first);
        return std::count(coordinates.begin() + static_cast<std::ptrdiff_t>(first),
                          end == std::string::npos
                              ? coordinates.end()
                              : coordinates.begin() + static_cast<std::ptrdiff_t>(end),
                          ',') > 1
                   ? 3
                   : 2;
    }
    static void put(Path& path, double x, double y, double z) {
        path.points.push_back({x, y});
        if (std::isnan(z) && path.z.empty()) return;
        path.z.resize(path.points.size(), kNaN);
        path.z.back() = z;
    }
    static std::vector<double> numbersIn(const char* text, bool commasDivide) {
        return numbersIn(std::string_view(text), commasDivide);
    }
    static std::vector<double> numbersIn(std::string_view text, bool commasDivide) {
        std::vector<double> out;
        const auto isBetween = [&](char c) {
            return std::strchr(" \t\r\n", c) != nullptr || (commasDivide && c == ',');
        };
        for (std::size_t at = 0; at < text.size();) {
            if (isBetween(text[at])) {
                ++at;
                continue;
            }
            double value = 0;
            const auto read = std::from_chars(text.data() + at + (text[at] == '+' ? 1 : 0),
                                              text.data() + text.size(), value);
            if (read.ec != std::errc() || !std::isfinite(value)) return out;
            out.push_back(value);
            at = static_cast<std::size_t>(read.ptr - text.data());
        }
        return out;
    }
};
}  // namespace

bool isGmlShape(const pugi::xml_node& node) { return wordOf(node) != nullptr; }

GmlShape gmlShape(const pugi::xml_node& node, int dimension) {
    ShapeReader reader;
    reader.read(node, dimension, 0);
    const Word* word = wordOf(node);
    Geometry& g = reader.out.geometry;
    g.isMulti = (word && word->isMulti) ||
                (g.type == GeometryType::Polygon ? g.polygons.size() : g.partCount()) > 1;
    if (g.isEmpty()) g = {};
    return std::move(reader.out);
}

}  // namespace ledge::io
