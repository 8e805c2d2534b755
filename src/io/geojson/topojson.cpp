#include "io/geojson/topojson.h"

#include <cmath>

#include "core/base/numbers.h"
#include "io/files/atomic_file.h"
#include "io/geojson/json_features.h"
#include "io/memory_features.h"

namespace ledge::io {
namespace {
namespace dom = simdjson::dom;
constexpr std::size_t kMostPoints = 100'000'000;  // arcs may be named any number of times

struct Topology {
    std::vector<std::vector<Point>> arcs;
    std::optional<std::array<double, 4>> transform;  // scale x, y, translate x, y
    std::size_t points = 0;

    Point placed(Point p) const {
        if (!transform) return p;
        return {p.x * (*transform)[0] + (*transform)[2], p.y * (*transform)[1] + (*transform)[3]};
    }
};

std::optional<Point> positionOf(const dom::element& json) {
    dom::array values;
    if (json.get(values) != simdjson::SUCCESS || values.size() < 2) return {};
    const auto x = number(values.at(0).value_unsafe()), y = number(values.at(1).value_unsafe());
    return x && y ? std::optional(Point{*x, *y}) : std::nullopt;
}

// The points of arcs one after another; where two meet the point is one.
bool addArcs(const dom::element& json, Topology& topology, Geometry& out) {
    dom::array indices;
    if (json.get(indices) != simdjson::SUCCESS) return false;
    bool isFirst = true;
    for (const dom::element one : indices) {
        std::int64_t index = 0;
        if (one.get(index) != simdjson::SUCCESS) return false;
        const bool isReversed = index < 0;
        const auto at = static_cast<std::size_t>(isReversed ? ~index : index);
        if (at >= topology.arcs.size()) return false;
        const auto& arc = topology.arcs[at];
        topology.points += arc.size();
        if (topology.points > kMostPoints) return false;
        for (std::size_t i = isFirst ? 0 : 1; i < arc.size(); ++i)
            out.points.push_back(isReversed ? arc[arc.size() - 1 - i] : arc[i]);
        isFirst = false;
    }
    return !isFirst;
}

template <typename Add>
bool each(const dom::element& json, const Add& add) {
    dom::array values;
    if (json.get(values) != simdjson::SUCCESS) return false;
    for (const dom::element value : values)
        if (!add(value)) return false;
    return true;
}

std::optional<Geometry> shapeOf(const dom::element& json, Topology& topology) {
    Geometry out;
    std::string_view type;
    if (json["type"].get(type) != simdjson::SUCCESS || type.empty()) return out;  // none
    out.isMulti = type.starts_with("Multi");
    const std::string_view base = out.isMulti ? type.substr(5) : type;
    const auto content = member(json, base == "Point" ? "coordinates" : "arcs");
    if (!content) return {};
    const auto all = [&](const auto& add) {
        return out.isMulti ? each(*content, add) : add(*content);
    };
    const auto line = [&](bool isOuter) {
        return [&, isOuter](const dom::element& arcs) {
            out.beginPart(isOuter);
            return addArcs(arcs, topology, out);
        };
    };
    bool good = false;
    if (base == "Point") {
        out.type = GeometryType::Point;
        good = all([&](const dom::element& position) {
            const auto p = positionOf(position);
            if (!p) return false;
            out.beginPart();
            out.points.push_back(topology.placed(*p));
            return true;
        });
    } else if (base == "LineString") {
        out.type = GeometryType::Line;
        good = all(line(false));
    } else if (base == "Polygon") {
        out.type = GeometryType::Polygon;
        good = all([&](const dom::element& rings) {
            bool isOuter = true;
            return each(rings, [&](const dom::element& ring) {
                const std::size_t from = out.points.size();
                if (!line(std::exchange(isOuter, false))(ring)) return false;
                if (out.points.size() == from) return false;  // its arcs have no points
                if (const Point first = out.points[from]; first != out.points.back())
                    out.points.push_back(first);
                return true;
            });
        });
    }
    return good ? std::optional(std::move(out)) : std::nullopt;
}

// One arc, its steps added up where there is a transform.
std::vector<Point> arcOf(const dom::element& json, const Topology& topology) {
    std::vector<Point> out;
    Point at;
    each(json, [&](const dom::element& one) {
        const auto p = positionOf(one);
        if (!p) return true;
        at = topology.transform ? at + *p : *p;
        out.push_back(topology.placed(at));
        return true;
    });
    return out;
}
}  // namespace

Result<FeatureSourcePtr> topologyOf(const dom::element& root, const std::filesystem::path& path,
                                    const Progress& progress) {
    Topology topology;
    if (const auto transform = member(root, "transform")) {
        const auto scale = member(*transform, "scale"), translate = member(*transform, "translate");
        const auto s = scale ? positionOf(*scale) : std::nullopt,
                   t = translate ? positionOf(*translate) : std::nullopt;
        if (!s || !t) return badFormat(path, "its transform has no scale and translation");
        topology.transform = {s->x, s->y, t->x, t->y};
    }
    if (const auto arcs = member(root, "arcs"))
        each(*arcs, [&](const dom::element& arc) {
            topology.arcs.push_back(arcOf(arc, topology));
            return !progress.stopped();
        });
    dom::object objects;
    if (root["objects"].get(objects) != simdjson::SUCCESS)
        return badFormat(path, "a topology without \"objects\"");
    std::vector<FeatureTable> tables;
    for (const auto& [name, object] : objects) {
        FeatureList table;
        table.info.name = std::string(name);
        table.info.crs = *crs::crsFromCode(4326);
        JsonFeatures features(table);
        std::size_t unusable = 0;
        const auto add = [&](const dom::element& one) {
            auto shape = shapeOf(one, topology);
            if (!shape) ++unusable;
            features.add(shape.value_or(Geometry{}), member(one, "properties"), member(one, "id"));
            return !progress.stopped();
        };
        const auto members = member(object, "geometries");
        if (!members)
            add(object);
        else
            each(*members, add);
        if (progress.stopped()) return cancelled(nameOf(path));
        features.takeIds();
        if (unusable > 0)
            table.info.notes.push_back(formatNumber(static_cast<double>(unusable)) +
                                       " shapes name arcs that are not there");
        tables.push_back(FeatureTable(std::move(table)));
        tables.back().refreshInfo();
    }
    if (tables.empty()) return badFormat(path, "a topology without objects");
    return FeatureSourcePtr(std::make_shared<MemoryFeatures>("TopoJSON", std::move(tables)));
}

}  // namespace ledge::io
